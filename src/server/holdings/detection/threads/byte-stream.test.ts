import fc from 'fast-check';
import { expect, it } from 'vitest';
import { Engine } from '../../../../core/holdings/detection/engine/engine.ts';
import type { Finding } from '../../../../core/holdings/detection/detector/finding.ts';
import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import { TextStream } from '../../../../core/holdings/detection/engine/text-stream.ts';
import { ByteStream } from './byte-stream.ts';
import { runs } from '../../../../../tests/property-runs.ts';

const RECORD = 'CPR 010180-1234, write to tove@brindlestrait.example.\n';
const NORDIC = 'Kære Kåre Østergård Lund – født 12. marts 1984 😀\n';
const PROSE = 'the ship leaves the quay at noon and nobody is on deck. '.repeat(40);
const engine = new Engine(builtInDetectors());

const inOrder = (findings: readonly Finding[]) =>
  findings
    .map(({ detector, start, end, confidence }) => ({ detector, start, end, confidence }))
    .sort((a, b) => a.start - b.start || a.end - b.end || (a.detector < b.detector ? -1 : 1));

function findIn(bytes: Buffer, encoding: string, sizes: readonly number[]): readonly Finding[] {
  const found: Finding[] = [];
  const stream = new TextStream(engine, {}, (f) => found.push(f));
  const pieces = new ByteStream(stream, encoding);
  for (let at = 0, n = 0; at < bytes.length; n++) {
    const size = sizes[n % sizes.length] as number;
    pieces.push(bytes.subarray(at, at + size));
    at += size;
  }
  pieces.end();
  stream.end();
  return found;
}

it('finds the same wherever the bytes are cut, in ASCII and beyond it', () => {
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom(RECORD, NORDIC, PROSE), { minLength: 1, maxLength: 12 }),
      fc.array(fc.integer({ min: 1, max: 5000 }), { minLength: 1, maxLength: 6 }),
      (parts, sizes) => {
        const text = parts.join('');
        const expected = inOrder(engine.detect({ text, segments: [] }).findings);
        expect(inOrder(findIn(Buffer.from(text), 'UTF-8', sizes))).toEqual(expected);
      },
    ),
    runs(80),
  );
});

it('reads a mark of the byte order at the beginning as none of the text, and elsewhere as a sign of it', () => {
  const [first] = findIn(Buffer.from(`\ufeff${RECORD}`), 'UTF-8', [7]);
  expect(first?.start).toBe(4);
  const [later] = findIn(Buffer.from(`ab\ufeff${RECORD}`), 'UTF-8', [2, 100]);
  expect(later?.start).toBe(7);
});

it('reads an encoding of one byte a sign', () => {
  const found = findIn(Buffer.from(`Gr\u00fc\u00dfe. ${RECORD}`, 'latin1'), 'windows-1252', [3]);
  expect(found[0]?.start).toBe(11);
});

it('tells a text that ends in the middle of a sign by a sign for it', () => {
  const found = findIn(Buffer.concat([Buffer.from(RECORD), Buffer.from([0xc3])]), 'UTF-8', [10]);
  expect(found.map((f) => f.detector)).toEqual(['dk-cpr', 'email']);
});
