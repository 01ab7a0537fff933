import { readFile } from 'node:fs/promises';
import { join } from 'node:path';
import fc from 'fast-check';
import { expect, it } from 'vitest';
import wabt from 'wabt';
import { SCAN_CODE } from './scan-code.ts';
import {
  ANY,
  CAPITALS,
  DEEP_BYTES,
  depthBit,
  DEPTH_SLOTS,
  DIGITS,
  HIT,
  HIT_BYTES,
  ScanKernel,
  SIGN,
  WORD,
} from './scan-kernel.ts';
import { runs } from '../../../../../tests/property-runs.ts';

it('is what its source assembles to', async () => {
  const source = await readFile(join(import.meta.dirname, 'scan.wat'), 'utf8');
  const { buffer } = (await wabt()).parseWat('scan.wat', source, { simd: true }).toBinary({});
  expect(Buffer.from(buffer).toString('base64')).toBe(SCAN_CODE);
});

it('marks what a plain loop marks, wherever the text begins and ends', () => {
  const filled = (bytes: number, value: number) => new Uint8Array(bytes).fill(value);
  const kernel = new ScanKernel(
    {
      hits: filled(HIT_BYTES, HIT),
      depths: filled(DEPTH_SLOTS, depthBit(3)),
      deep: filled(DEEP_BYTES, ANY * 0x55),
    },
    [64, 58],
  );
  const alpha = (b: number) => (b >= 65 && b <= 90) || (b >= 97 && b <= 122);
  const capital = (b: number) => b >= 65 && b <= 90;
  const digit = (b: number) => b >= 48 && b <= 57;
  fc.assert(
    fc.property(
      fc.array(fc.constantFrom(32, 65, 66, 90, 91, 97, 122, 48, 57, 64, 58, 46, 0xe5, 0xd7, 1, 10), {
        maxLength: 300,
      }),
      fc.nat(90),
      (bytes, skip) => {
        const units = new Uint8Array(bytes.length + 16);
        units.set(bytes);
        const from = Math.min(skip, bytes.length);
        const expected: string[] = [];
        for (let i = from; i < bytes.length; i++) {
          const b = bytes[i] as number;
          const before = i > 0 ? (bytes[i - 1] as number) : 0;
          if ((alpha(b) || b > 127) && !alpha(before)) {
            expected.push(`${i} ${WORD}`);
            if ([0, 1, 2, 3].every((k) => capital(units[i + k] as number))) expected.push(`${i} ${CAPITALS}`);
          }
          if (digit(b) && !digit(before)) expected.push(`${i} ${DIGITS}`);
          if (b === 64 || b === 58) expected.push(`${i} ${SIGN}`);
        }
        const found: string[] = [];
        kernel.run(units, from, bytes.length, (at, kind) => found.push(`${at} ${kind}`));
        expect(found.toSorted()).toEqual(expected.toSorted());
        const offsets = found.map((place) => parseInt(place, 10));
        expect(offsets).toEqual(offsets.toSorted((a, b) => a - b));
      },
    ),
    runs(200),
  );
});
