import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { buildPrograms } from '../../../launcher/build.ts';
import { PROJECT } from '../../../launcher/project.ts';
import { Random } from '../../../demo/random.ts';
import { PatternDetector } from '../../../src/core/holdings/detection/detector/detector.ts';
import { builtInDetectors } from '../../../src/core/holdings/detection/library/library.ts';
import {
  DetectPool,
  NO_DETECTORS,
  TookTooLong,
} from '../../../src/server/holdings/detection/threads/detection-threads.ts';
import { runs } from '../../property-runs.ts';
import { LETTER, sampleFiles } from './sample-files.ts';

/** `./yare test long` tries 20,000. */
const COUNT = runs(1000).numRuns;
let pool: DetectPool;

beforeAll(async () => {
  await buildPrograms(['detect', 'detect-thread']);
  // A thread that needed more memory than this would be ended, and the test would say so.
  pool = new DetectPool(
    { ...NO_DETECTORS, detectors: builtInDetectors() },
    2,
    512,
    join(PROJECT, 'dist', 'detect-thread.mjs'),
  );
});
afterAll(() => pool.close());

/** A file as it may come: cut, overwritten, repeated, mixed with another. */
function damaged(random: Random, bytes: Buffer, other: Buffer): Buffer {
  const out = Buffer.from(bytes);
  const at = random.below(out.length);
  switch (random.below(6)) {
    case 0:
      return out.subarray(0, at);
    case 1:
      for (let n = 1 + random.below(12); n > 0; n--) out[random.below(out.length)] = random.below(256);
      return out;
    case 2:
      return Buffer.concat([out.subarray(0, at), other.subarray(random.below(other.length))]);
    case 3:
      return Buffer.concat([out.subarray(0, at), random.bytes(1 + random.below(40)), out.subarray(at)]);
    case 4:
      return Buffer.concat(Array.from({ length: 2 + random.below(4) }, () => out.subarray(at)));
    default:
      out.fill(random.below(256), at, Math.min(out.length, at + 1 + random.below(64)));
      return out;
  }
}

it(`reads ${COUNT} damaged files of every format, telling what is wrong with them, and none ends it`, async () => {
  const random = new Random(20_261_123);
  const files = Object.entries(await sampleFiles()).map(([name, body]) => ({
    name,
    bytes: Buffer.from(body),
  }));
  let read = 0;
  let told = 0;
  const one = async () => {
    const { name, bytes } = random.pick(files);
    const broken = damaged(random, bytes, random.pick(files).bytes);
    // A failure of the thread itself, or of its time, rejects.
    const { problems, length } = await pool.run(
      { what: 'bytes', bytes: broken, name, options: { budgetMs: 5000 } },
      20_000,
    );
    read++;
    if (problems.length > 0) told++;
    expect(length).toBeLessThan(5e6);
  };
  for (let n = 0; n < COUNT; n += 50) await Promise.all(Array.from({ length: 50 }, one));
  expect(read).toBe(COUNT);
  // Many kinds of damage leave a readable file; many do not, and those are told.
  expect(told).toBeGreaterThan(COUNT / 20);
}, 600_000);

const ATOMS = [
  'a',
  '\\d',
  '[A-Z]',
  '\\p{L}',
  '.',
  '\\s',
  '-',
  '@',
  '(?:ab|a)',
  '(\\w)',
  '\\1',
  'x?',
  '(?=\\d)',
  '(?<!a)',
  '\\b',
  '^',
  '$',
  '[^\\d]',
  '€',
  '😀',
];
const REPEATS = ['', '', '', '+', '*', '?', '{2,5}', '{0,3}?', '+?', '{3}'];

function pattern(random: Random, depth = 0): string {
  let out = '';
  for (let n = 1 + random.below(4); n > 0; n--) {
    const atom = depth < 2 && random.chance(0.25) ? `(?:${pattern(random, depth + 1)})` : random.pick(ATOMS);
    // What only looks cannot be repeated.
    out += /^(?:\^|\$|\\b|\(\?<?[=!])/.test(atom) ? atom : atom + random.pick(REPEATS);
  }
  return random.chance(0.15) ? `${out}|${random.pick(ATOMS)}` : random.chance(0.03) ? `${out}(` : out;
}

it(`takes ${COUNT} random patterns: each is refused with a reason, runs, or is ended, and the next one runs`, async () => {
  const random = new Random(7);
  const tally = { ran: 0, refused: 0, ended: 0 };
  const text = `${LETTER} aaaaaaaaaaaaaaaaaaaaaaaaaaaaaaaa 1111111111 ab-ab@ab 😀€ x\n`;
  const one = async () => {
    const written = pattern(random);
    const detector = PatternDetector.parse({
      kind: 'pattern',
      id: 'random',
      name: 'Random',
      anchor: { by: 'pattern', pattern: written, ignoreCase: random.chance(0.3) },
      start: 3,
    });
    try {
      await pool.run(
        {
          what: 'with',
          name: `${written} ${random.next()}`,
          setting: { ...NO_DETECTORS, detectors: [detector] },
          texts: [{ text, segments: [] }],
          options: { budgetMs: 500 },
        },
        600,
      );
      tally.ran++;
    } catch (error) {
      if (error instanceof TookTooLong) tally.ended++;
      else {
        expect((error as Error).message, written).toMatch(/^Random: /);
        tally.refused++;
      }
    }
  };
  for (let n = 0; n < COUNT; n += 50) await Promise.all(Array.from({ length: 50 }, one));
  expect(tally.ran + tally.refused + tally.ended).toBe(COUNT);
  expect(tally.ran).toBeGreaterThan(COUNT / 4);
  expect(tally.refused).toBeGreaterThan(0);
}, 600_000);
