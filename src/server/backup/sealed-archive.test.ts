import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { openArchive, sealArchive } from './sealed-archive.ts';

const CHEAP = { N: 2, r: 1, p: 1 };
const MADE = new Date('2026-12-01T00:00:00Z');

async function* chunks(...all: readonly Uint8Array[]): AsyncGenerator<Uint8Array> {
  yield* all;
}
async function whole(of: AsyncIterable<Uint8Array>): Promise<Buffer> {
  const all: Uint8Array[] = [];
  for await (const c of of) all.push(c);
  return Buffer.concat(all);
}
const sealed = (...all: readonly Uint8Array[]) =>
  whole(sealArchive('a long phrase', MADE, chunks(...all), CHEAP));
const opened = (bytes: Uint8Array, phrase = 'a long phrase') => whole(openArchive(phrase, chunks(bytes)));

describe('an archive', () => {
  it('gives back what was put in, however it comes in pieces', async () => {
    await fc.assert(
      fc.asyncProperty(
        fc.array(fc.uint8Array({ maxLength: 40 }), { maxLength: 6 }),
        fc.integer({ min: 1, max: 17 }),
        async (parts, step) => {
          const file = await sealed(...parts);
          const pieces = Array.from({ length: Math.ceil(file.length / step) }, (_, i) =>
            file.subarray(i * step, (i + 1) * step),
          );
          const back = await whole(openArchive('a long phrase', chunks(...pieces)));
          expect(back.equals(Buffer.concat(parts))).toBe(true);
        },
      ),
      { numRuns: 40 },
    );
  });

  it('holds several frames, and the last may be full', async () => {
    for (const size of [0, 999_999, 1_000_000, 1_000_001, 2_500_000]) {
      const bytes = Buffer.alloc(size, 7);
      expect((await opened(await sealed(bytes))).equals(bytes)).toBe(true);
    }
  });

  it('is refused with any byte changed, cut anywhere, or with something put behind it', async () => {
    const file = await sealed(Buffer.from('what nobody else may read'));
    await fc.assert(
      fc.asyncProperty(fc.nat(file.length - 1), fc.integer({ min: 1, max: 255 }), async (at, by) => {
        const changed = Buffer.from(file);
        changed[at] = (changed[at] ?? 0) ^ by;
        await expect(opened(changed)).rejects.toThrow();
        await expect(opened(file.subarray(0, at))).rejects.toThrow();
      }),
      { numRuns: 60 },
    );
    await expect(opened(Buffer.concat([file, Buffer.from('x')]))).rejects.toThrow();
  });

  it('is refused with a frame left out, or two in another order', async () => {
    const file = await sealed(Buffer.alloc(1_000_000, 1), Buffer.alloc(1_000_000, 2), Buffer.from('end'));
    const head = 12 + file.readUInt32BE(8);
    const frame = 4 + 1_000_000 + 16;
    const [a, b, rest] = [
      file.subarray(head, head + frame),
      file.subarray(head + frame, head + 2 * frame),
      file.subarray(head + 2 * frame),
    ];
    const start = file.subarray(0, head);
    await expect(opened(Buffer.concat([start, a, rest]))).rejects.toThrow(/cut off|damaged/);
    await expect(opened(Buffer.concat([start, b, a, rest]))).rejects.toThrow(/passphrase|damaged/);
    await expect(opened(Buffer.concat([start, a, b]))).rejects.toThrow(
      'The file is cut off, or its end is damaged.',
    );
  });

  it('is closed to another passphrase, and tells nothing in clear', async () => {
    const file = await sealed(Buffer.from('what nobody else may read'));
    await expect(opened(file, 'another phrase')).rejects.toThrow('The passphrase does not open this file');
    expect(file.includes('nobody')).toBe(false);
    await expect(opened(Buffer.from('not one of ours'))).rejects.toThrow('This is no backup of ours.');
    expect((await sealed(Buffer.from('x'))).equals(await sealed(Buffer.from('x')))).toBe(false);
  });
});
