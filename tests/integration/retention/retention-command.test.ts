import { spawn } from 'node:child_process';
import { mkdtemp, rm, writeFile } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { buildPrograms } from '../../../launcher/build.ts';
import { PROJECT } from '../../../launcher/project.ts';

let folder = '';
const RULES = {
  zone: 'Europe/Copenhagen',
  rules: [
    { id: 'all', name: 'Everything', keep: { count: 10, unit: 'years' }, then: 'tell' },
    {
      ...{ id: 'manifests', name: 'Manifests', where: 'document one of "boarding-manifest"' },
      ...{ keep: { count: 2, unit: 'years' }, after: 'arrival', unknown: 'changed', then: 'ask' },
    },
    {
      id: 'cards',
      where: 'matches:payment-card at least 5',
      keep: { count: 1, unit: 'days' },
      then: 'delete',
    },
    { id: 'share', place: { source: 'port', path: 'Old' }, keep: null, then: 'nothing' },
    { id: 'one', items: ['7'], keep: { count: 1, unit: 'months' }, then: 'archive' },
  ],
  bounds: [
    {
      ...{ id: 'books', name: 'Bookkeeping Act', kind: 'minimum', where: 'document one of "invoice"' },
      ...{ keep: { count: 5, unit: 'years' }, yearEnd: true },
    },
  ],
};
const HOLDS = {
  holds: [
    { id: 'berth', where: 'document one of "boarding-manifest"', from: '2021-08-01', until: '2021-08-31' },
  ],
};
const ITEMS = [
  // Told in Copenhagen, it arrived on the 16th.
  {
    id: '1',
    source: 'port',
    changed: '2021-09-01',
    document: 'boarding-manifest',
    people: 9,
    events: { arrival: '2021-08-15T22:40:00Z' },
  },
  { id: '2', source: 'port', changed: '2021-08-31T12:00:00Z', document: 'boarding-manifest' },
  { id: '3', source: 'port', place: 'Old/x', changed: '2001-01-01' },
  { id: '4', source: 'port', place: 'Older', changed: '2001-01-01' },
  { id: '5', source: 'mail', changed: '2026-11-28', data: { 'payment-card': 5 } },
  { id: '6', source: 'mail', changed: '2012-02-29', document: 'invoice' },
  {
    id: '7',
    source: 'mail',
    changed: '2026-10-31',
    document: 'boarding-manifest',
    events: { arrival: '2020-01-01' },
  },
];

beforeAll(async () => {
  await buildPrograms(['retention']);
  folder = await mkdtemp(join(tmpdir(), 'yare-retention-'));
  await writeFile(join(folder, 'rules.json'), JSON.stringify(RULES));
  await writeFile(join(folder, 'holds.json'), JSON.stringify(HOLDS));
  await writeFile(join(folder, 'items.jsonl'), ITEMS.map((i) => JSON.stringify(i)).join('\n'));
});
afterAll(() => rm(folder, { recursive: true, force: true }));

function retention(input: string, ...args: readonly string[]) {
  const child = spawn(process.execPath, [join(PROJECT, 'dist/retention.mjs'), ...args], { cwd: folder });
  const told = { out: '', err: '' };
  child.stdout.on('data', (d: Buffer) => (told.out += d.toString()));
  child.stderr.on('data', (d: Buffer) => (told.err += d.toString()));
  child.stdin.on('error', () => {});
  child.stdin.end(input);
  return new Promise<{ code: number; out: string; err: string }>((ended) =>
    child.on('close', (code) => ended({ code: code ?? -1, ...told })),
  );
}
const BASE = ['--rules', 'rules.json', '--items', 'items.jsonl', '--on', '2026-11-29'];
const answers = (out: string) =>
  out
    .trim()
    .split('\n')
    .map((l) => JSON.parse(l) as Record<string, unknown>);

describe('./yare retention', () => {
  it('says of every item when it may go, and what decided', async () => {
    const { code, out } = await retention('', ...BASE, '--holds', 'holds.json', '--json');
    expect(code).toBe(0);
    expect(answers(out)).toMatchObject([
      { item: '1', state: 'due', ends: '2023-08-16', goes: '2023-08-17', by: 'manifests', movedBy: null },
      { item: '2', state: 'held', holds: ['berth'], ends: '2023-08-31', by: 'manifests' },
      { item: '3', state: 'kept', ends: null, goes: null, then: 'nothing', by: 'share' },
      { item: '4', state: 'due', ends: '2011-01-01', then: 'tell', by: 'all' },
      // Its last day is today.
      { item: '5', state: 'kept', ends: '2026-11-29', by: 'cards' },
      { item: '6', state: 'due', ends: '2022-02-28', by: 'all' },
      {
        item: '7',
        state: 'kept',
        ends: '2026-11-30',
        then: 'archive',
        by: 'one',
        lost: [{ rule: 'manifests' }, { rule: 'all' }],
      },
    ]);
    expect(answers(out)[0]?.['why']).toContain('“Everything” is less specific, and gives way.');
  });

  it('keeps what the law asks for longer', async () => {
    const { out } = await retention(
      '{"id":"a","source":"s","changed":"2024-02-29","document":"invoice"}',
      ...['--rules', 'rules.json', '--items', '-', '--on', '29 Nov 2040', '--json'],
    );
    expect(answers(out)).toMatchObject([{ ends: '2034-02-28', movedBy: null, state: 'due' }]);
    const short = { ...RULES, rules: [{ id: 'r', keep: { count: 1, unit: 'years' }, then: 'delete' }] };
    await writeFile(join(folder, 'short.json'), JSON.stringify(short));
    const { out: moved } = await retention(
      '{"id":"a","source":"s","changed":"2024-02-29","document":"invoice"}',
      ...['--rules', 'short.json', '--items', '-', '--on', '2026-11-29', '--json'],
    );
    expect(answers(moved)).toMatchObject([
      { ends: '2029-12-31', movedBy: 'books', state: 'kept', ruleEnds: '2025-02-28' },
    ]);
  });

  it('tells the line that cannot be read, and judges the others', async () => {
    const input = '{"id":"a","source":"s"}\n\nno json\n{"id":"b","source":"s","changed":"yesterday"}\n';
    const { code, out } = await retention(
      input,
      ...['--rules', 'rules.json', '--items', '-', '--on', '2026-11-29', '--json'],
    );
    expect(code).toBe(1);
    expect(answers(out)).toMatchObject([
      { item: 'a' },
      { line: 3, refused: expect.stringContaining('no JSON') as string },
      { line: 4, refused: 'changed: A day or a moment (ISO 8601).' },
    ]);
  });

  it.each([
    [[], 'Say where the rules are'],
    [['--rules', 'rules.json'], 'Say where the items are'],
    [[...BASE.slice(0, 4), '--on', '31 Feb 2026'], 'is no day'],
    [['--rules', 'gone.json', '--items', '-'], 'gone.json: it cannot be read'],
    [['--rules', 'holds.json', '--items', '-'], 'holds.json: '],
    [['--rules', 'rules.json', '--items', 'gone.jsonl'], 'gone.jsonl'],
    [['--nothing'], '--nothing'],
  ])('does not begin with %j', async (args, words) => {
    const { code, err, out } = await retention('', ...args);
    expect(code).toBe(2);
    expect(err).toContain(words);
    expect(out).toBe('');
  });

  it.each([
    [{ rules: [{ id: 'a', keep: null, then: 'burn' }] }, 'rules.0.then'],
    [{ rules: [{ id: 'a', keep: { count: 0, unit: 'days' }, then: 'ask' }] }, 'rules.0.keep.count'],
    [{ rules: [{ id: 'a', keep: null, then: 'ask', where: 'no-such-fact one of "x"' }] }, 'rules.0.where'],
    [{ rules: [{ id: 'a', keep: null, then: 'ask', where: 'people at' }] }, 'rules.0.where'],
    [{ rules: [], zone: 'Europe/Nowhere' }, 'zone'],
    [{ rules: [1, 2].map(() => ({ id: 'a', keep: null, then: 'ask' })) }, 'Two rules have the same id.'],
  ])('names what is wrong in the rules %j', async (rules, words) => {
    await writeFile(join(folder, 'wrong.json'), JSON.stringify(rules));
    const { code, err } = await retention('', '--rules', 'wrong.json', '--items', 'items.jsonl');
    expect(code).toBe(2);
    expect(err).toContain(words);
  });
});
