import { mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, expect, it, vi } from 'vitest';
import { PROJECT } from '../../../launcher/project.ts';
import { frameworkCommand } from '../../../src/server/obligations/framework-command.ts';

const folder = mkdtempSync(join(tmpdir(), 'yare-framework-'));
const GDPR = join(PROJECT, 'library/frameworks/gdpr.json');
afterAll(() => rmSync(folder, { recursive: true, force: true }));
afterEach(() => vi.restoreAllMocks());

async function run(...args: readonly string[]) {
  let [out, wrong] = ['', ''];
  vi.spyOn(process.stdout, 'write').mockImplementation((text) => ((out += String(text)), true));
  vi.spyOn(process.stderr, 'write').mockImplementation((text) => ((wrong += String(text)), true));
  const code = await frameworkCommand(args, new Set(['websites.leaks']));
  vi.restoreAllMocks();
  return { code, out, wrong };
}

async function check(text: string) {
  const path = join(folder, 'own.json');
  writeFileSync(path, text);
  const { code, out } = await run('check', path, '--json');
  return { code, faults: (JSON.parse(out) as { faults: { at: string; message: string }[] }).faults };
}

interface Written {
  controls: { id: string; risk: number; family: string; measures: string[] }[];
}

it('finds nothing wrong with what ships', async () => {
  expect(await run('check', GDPR)).toMatchObject({ code: 0, out: `✓ ${GDPR}: nothing is wrong.\n` });
});

it('tells all faults at once, each at its place', async () => {
  const written = JSON.parse(readFileSync(GDPR, 'utf8')) as Written;
  const [a, b, c] = written.controls;
  if (!a || !b || !c) throw new Error('There are more.');
  [a.risk, b.id] = [9, 'Two words'];
  const form = await check(JSON.stringify(written));
  expect(form.code).toBe(1);
  expect(form.faults.map((f) => f.at)).toEqual(['controls.0.risk', 'controls.1.id']);
  [a.risk, b.id] = [3, 'b'];
  [a.measures, b.family, c.id] = [['no-such-measure'], 'no-such', 'b'];
  const named = await check(JSON.stringify(written));
  expect(named.faults.map((f) => f.message)).toEqual(
    expect.arrayContaining([
      'There is no measure no-such-measure.',
      'There is no family no-such.',
      'There are two controls of this id.',
    ]),
  );
});

it.each(['', '{', '[]', '{"format":"other"}', 'null'])('tells of %j as a fault of the file', async (text) => {
  const { code, faults } = await check(text);
  expect(code).toBe(1);
  expect(faults.length).toBeGreaterThan(0);
});

it('does not begin without a file', async () => {
  expect(await run('check')).toMatchObject({ code: 2 });
  expect(await run('show', GDPR)).toMatchObject({ code: 2 });
  expect((await run('check', join(folder, 'nowhere.json'))).code).toBe(2);
});
