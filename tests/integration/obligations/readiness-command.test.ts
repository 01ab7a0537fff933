import { mkdtempSync, rmSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { afterAll, afterEach, expect, it, vi } from 'vitest';
import { readinessCommand } from '../../../src/server/obligations/readiness-command.ts';

const folder = mkdtempSync(join(tmpdir(), 'yare-readiness-'));
afterAll(() => rmSync(folder, { recursive: true, force: true }));
afterEach(() => vi.restoreAllMocks());

const FRAMEWORK = {
  ...{
    format: 'yare-framework-1',
    id: 'safety',
    version: '2026-01-01',
    name: 'Safety',
    title: 'Safety code',
  },
  ...{
    issuer: 'The line',
    regions: [],
    covers: 'All',
    whole: true,
    families: [{ id: 'deck', name: 'Deck' }],
  },
  controls: [
    {
      ...{ id: 'c1', family: 'deck', ref: '1', name: 'One', duty: 'required', kind: 'prevents', risk: 5 },
      ...{ guidance: 'So.', measures: ['train-staff', 'own-one', 'own-two'] },
    },
    {
      ...{ id: 'c2', family: 'deck', ref: '2', name: 'Two', duty: 'by choice', kind: 'detects', risk: 1 },
      ...{ guidance: 'Or so.', measures: ['own-two'] },
    },
  ],
};
const own = (id: string, hours: number) => ({
  id,
  name: id,
  steps: ['Do'],
  evidence: ['It'],
  hours,
  whose: 'ours',
});
const ASSESSMENT = {
  ...{
    format: 'yare-assessment-1',
    framework: FRAMEWORK,
    measures: [own('own-one', 1), own('own-two', 100)],
  },
  work: [{ measure: 'train-staff', state: 'done', test: 'passed', evidenceUntil: '2026-11-30' }],
};

async function run(file: unknown, ...more: readonly string[]) {
  const path = join(folder, 'assessment.json');
  writeFileSync(path, typeof file === 'string' ? file : JSON.stringify(file));
  let [out, wrong] = ['', ''];
  vi.spyOn(process.stdout, 'write').mockImplementation((text) => ((out += String(text)), true));
  vi.spyOn(process.stderr, 'write').mockImplementation((text) => ((wrong += String(text)), true));
  const code = await readinessCommand([path, ...more], new Date('2026-11-30T12:00:00Z'));
  vi.restoreAllMocks();
  return { code, out, wrong };
}

it('counts in fractions that anyone can check', async () => {
  const { code, out } = await run(ASSESSMENT, '--json');
  expect(code).toBe(0);
  expect(JSON.parse(out)).toMatchObject({
    ...{ framework: 'safety', on: '2026-11-30', given: '15', applicable: '47', unanswered: '0' },
    controls: [
      { control: 'c1', points: 45, given: '15', measures: [{ share: '15', gives: true, why: null }, {}, {}] },
      { control: 'c2', points: 2, measures: [{ share: '2', why: 'not tested' }] },
    ],
    next: [
      { measure: 'own-one', gain: '15', hours: 1, serves: ['c1'] },
      { measure: 'own-two', gain: '17', serves: ['c1', 'c2'] },
    ],
  });
  const later = JSON.parse((await run(ASSESSMENT, '--json', '--on', '2026-12-01')).out) as { given: string };
  expect(later.given).toBe('0');
});

it('says it for people, rounded down', async () => {
  const { out } = await run(ASSESSMENT);
  expect(out).toContain('Safety, on 2026-11-30: 31 of 100.');
  expect(out).toContain('own-one: +15.0 points for 1 hours');
});

it('names what is not there, and counts the rest', async () => {
  const { code, out, wrong } = await run({
    ...ASSESSMENT,
    notApplicable: [{ control: 'c9', reason: 'x' }],
    work: [...ASSESSMENT.work, { measure: 'nothing' }, ...ASSESSMENT.work],
  });
  expect(code).toBe(1);
  expect(wrong).toContain('notApplicable.0.control: Safety has no control c9.');
  expect(wrong).toContain('work.1.measure: No control of Safety names nothing.');
  expect(wrong).toContain('work.2.measure: train-staff stands there twice.');
  expect(out).toContain('of 100');
});

it.each([
  ['no JSON', '{', [], 'cannot be read as JSON'],
  ['a framework that does not ship', { ...ASSESSMENT, framework: 'moon' }, [], 'none of the name moon ships'],
  ['a weight of 11', { ...ASSESSMENT, weights: { duty: { required: 11 } } }, [], 'weights'],
  [
    'not applicable without reason',
    { ...ASSESSMENT, work: [{ measure: 'train-staff', state: 'not applicable' }] },
    [],
    'reason',
  ],
  ['a day that is none', ASSESSMENT, ['--on', '2026-02-30'], 'is no day'],
] as const)('does not begin with %s', async (_, file, more, words) => {
  const { code, wrong } = await run(file, ...more);
  expect(code).toBe(2);
  expect(wrong).toContain(words);
});
