import { Document, Packer, Paragraph } from 'docx';
import ExcelJS from 'exceljs';
import fc from 'fast-check';
import { strToU8, unzipSync, zipSync } from 'fflate';
import { beforeAll, describe, expect, it } from 'vitest';
import { Marking, UnstampableError } from './marking.ts';
import { readFileLevel, stampFile, unstampFile } from './stamp-file.ts';

const LEVEL = { id: 'internal', name: 'Internal' };
const MARKING = Marking.parse({ header: { text: 'Internal' }, watermark: { text: 'INTERNAL' } });
let files: Readonly<Record<string, Uint8Array>>;
beforeAll(async () => {
  const book = new ExcelJS.Workbook();
  book.addWorksheet('One').addRow(['a']);
  files = {
    DOCX: new Uint8Array(
      await Packer.toBuffer(new Document({ sections: [{ children: [new Paragraph('Hello')] }] })),
    ),
    XLSX: new Uint8Array(await book.xlsx.writeBuffer()),
  };
});
const file = (kind: string) => files[kind] as Uint8Array;
const parts = (bytes: Uint8Array) =>
  Object.fromEntries(
    Object.entries(unzipSync(bytes)).map(([n, b]) => [n, Buffer.from(b).toString('latin1')]),
  );

describe.each(['DOCX', 'XLSX'])('a file of %s', (kind) => {
  it('carries its level, is the same byte for byte when stamped again, and comes back part by part', async () => {
    expect(await readFileLevel(file(kind))).toBeUndefined();
    const stamped = await stampFile(file(kind), MARKING, LEVEL);
    expect(stamped.kind).toBe(kind);
    expect(await readFileLevel(stamped.bytes)).toEqual(LEVEL);
    expect(Buffer.compare((await stampFile(stamped.bytes, MARKING, LEVEL)).bytes, stamped.bytes)).toBe(0);
    expect(parts(unstampFile(stamped.bytes).bytes)).toEqual(parts(file(kind)));
    expect(unstampFile(file(kind)).bytes).toBe(file(kind));
  });

  it('that is cut short or changed anywhere is stamped whole or refused, and nothing else is thrown', async () => {
    await fc.assert(
      fc.asyncProperty(fc.nat(), fc.nat(255), fc.boolean(), async (at, byte, cut) => {
        const bytes = Uint8Array.from(file(kind));
        if (cut) bytes.fill(0, at % bytes.length);
        else bytes[at % bytes.length] = byte;
        try {
          const { bytes: made } = await stampFile(bytes, MARKING, LEVEL);
          expect(await readFileLevel(made)).toEqual(LEVEL);
        } catch (error) {
          if (!(error instanceof UnstampableError)) throw error;
        }
      }),
      { numRuns: 60 },
    );
  });
});

it.each<[string, Uint8Array, string]>([
  ['no archive', strToU8('just words'), 'another kind'],
  ['empty', new Uint8Array(), 'another kind'],
  ['an older or encrypted document', Uint8Array.of(0xd0, 0xcf, 0x11, 0xe0, 0), 'encrypted'],
  ['an archive of something else', zipSync({ 'a.txt': strToU8('a') }), 'another kind'],
])('%s is refused', (_, bytes, why) =>
  expect(stampFile(bytes, MARKING, LEVEL)).rejects.toMatchObject({ why }),
);

it('an archive that says it is encrypted is refused', async () => {
  const bytes = Uint8Array.from(file('DOCX'));
  bytes[6] = (bytes[6] ?? 0) | 1;
  await expect(stampFile(bytes, MARKING, LEVEL)).rejects.toMatchObject({ why: 'encrypted' });
});
