import ExcelJS from 'exceljs';
import fc from 'fast-check';
import { unzipSync, zipSync } from 'fflate';
import { beforeAll, describe, expect, it } from 'vitest';
import { Marking, UnstampableError } from './marking.ts';
import { partsOf, withLine, withoutLine, type Part } from './page-header-text.ts';
import type { Parts } from './package-parts.ts';
import { readXlsxLevel, stampXlsx, unstampXlsx } from './stamp-xlsx.ts';

const LEVEL = { id: 'internal', name: 'Internal' };
const FULL = Marking.parse({
  header: { text: 'Internal & <only>', colour: '#a5106b', align: 'right' },
  footer: { text: 'Keep it here' },
});

async function xlsx(fill: (book: ExcelJS.Workbook) => void): Promise<Parts> {
  const book = new ExcelJS.Workbook();
  fill(book);
  return new Map(Object.entries(unzipSync(new Uint8Array(await book.xlsx.writeBuffer()))));
}
const plain = (parts: Parts) =>
  Object.fromEntries([...parts].map(([n, b]) => [n, Buffer.from(b).toString('latin1')]));
/** As another library reads it. */
async function read(parts: Parts): Promise<ExcelJS.Workbook> {
  const book = new ExcelJS.Workbook();
  await book.xlsx.load(zipSync(Object.fromEntries(parts)).buffer as ArrayBuffer);
  return book;
}

let samples: ReadonlyMap<string, Parts>;
const NAMES = ['plain', 'with headers', 'first and even pages', 'many sheets', 'a picture behind'];
beforeAll(async () => {
  samples = new Map([
    ['plain', await xlsx((b) => void b.addWorksheet('One').addRow(['a', 1]))],
    [
      'with headers',
      await xlsx((b) => {
        const s = b.addWorksheet('One');
        s.headerFooter.oddHeader = '&L&"Arial,Bold"Brindle && Co&RPage &P of &N';
        s.headerFooter.oddFooter = 'In the middle';
      }),
    ],
    [
      'first and even pages',
      await xlsx((b) => {
        const s = b.addWorksheet('One');
        Object.assign(s.headerFooter, {
          differentFirst: true,
          differentOddEven: true,
          firstHeader: 'First',
          evenFooter: '&RBack',
        });
      }),
    ],
    [
      'many sheets',
      await xlsx((b) => {
        for (let i = 0; i < 6; i++) b.addWorksheet(`Sheet ${i}`, { pageSetup: { orientation: 'landscape' } });
      }),
    ],
    [
      'a picture behind',
      await xlsx((b) => {
        const s = b.addWorksheet('One');
        const id = b.addImage({ base64: 'iVBORw0KGgo=', extension: 'png' });
        s.addImage(id, 'B2:C4');
        s.addTable({ name: 'T', ref: 'A1', columns: [{ name: 'x' }], rows: [[1]] });
      }),
    ],
  ]);
});
const sample = (name: string) => samples.get(name) as Parts;

describe.each(NAMES)('a workbook, %s,', (name) => {
  it('has the marking on every sheet, beside what stood there, and the level, as another library reads it', async () => {
    const stamped = stampXlsx(sample(name), FULL, LEVEL);
    expect(readXlsxLevel(stamped)).toEqual(LEVEL);
    const [before, after] = [await read(sample(name)), await read(stamped)];
    expect(after.worksheets.length).toBe(before.worksheets.length);
    for (const [i, sheet] of after.worksheets.entries()) {
      const was = before.worksheets[i]?.headerFooter;
      const shown = [
        ['oddHeader', 'oddFooter'],
        was?.differentOddEven ? ['evenHeader', 'evenFooter'] : [],
        was?.differentFirst ? ['firstHeader', 'firstFooter'] : [],
      ].flat() as ('oddHeader' | 'oddFooter')[];
      for (const edge of shown) {
        const text = sheet.headerFooter[edge] ?? '';
        expect(text, edge).toContain(edge.endsWith('Header') ? 'Internal && <only>' : 'Keep it here');
        expect(withoutLine(text)).toBe(was?.[edge] ?? '');
        const where = partsOf(text).find((p) => text.slice(p.from, p.to).includes('\u2063'));
        expect(where).toBeDefined();
      }
      expect(sheet.getSheetValues()).toEqual(before.worksheets[i]?.getSheetValues());
    }
  });

  it('comes back whole when it is taken off, and is the same when it is stamped twice', () => {
    const stamped = stampXlsx(sample(name), FULL, LEVEL);
    for (const [part, bytes] of sample(name))
      if (!/sheet\d+\.xml$|Content_Types|_rels\/\.rels|custom\.xml/.test(part))
        expect(stamped.get(part), part).toBe(bytes);
    expect(plain(unstampXlsx(stamped))).toEqual(plain(sample(name)));
    expect(plain(stampXlsx(stamped, FULL, LEVEL))).toEqual(plain(stamped));
    const other = Marking.parse({ footer: { text: 'Open' } });
    const lowered = stampXlsx(stamped, other, { id: 'open', name: 'Open' });
    expect(JSON.stringify(plain(lowered))).not.toContain('Internal');
    expect(plain(stampXlsx(lowered, FULL, LEVEL))).toEqual(plain(stamped));
  });
});

it('one whose header is full is refused, and says which sheet', async () => {
  const full = await xlsx((b) => {
    b.addWorksheet('One').headerFooter.oddHeader = `&L${'x'.repeat(240)}`;
  });
  expect(() => stampXlsx(full, FULL, LEVEL)).toThrow(UnstampableError);
  expect(() => stampXlsx(full, FULL, LEVEL)).toThrow(/sheet1\.xml has no room/);
});

describe('the text of a header', () => {
  it.each<[string, string[]]>([
    ['', []],
    ['Middle', ['centre Middle']],
    ['&LLeft&CMiddle&RRight', ['left Left', 'centre Middle', 'right Right']],
    ['Middle&RPage &P', ['centre Middle', 'right Page &P']],
    ['&L&"Font,&C"Left && Co', ['left &"Font,&C"Left && Co']],
  ])('%j has its parts', (text, parts) =>
    expect(partsOf(text).map((p) => `${p.part} ${text.slice(p.from, p.to)}`)).toEqual(parts),
  );

  const anyHeader = fc
    .array(fc.constantFrom('&L', '&C', '&R', 'Title', '&&', '&P', '&"A,B"', '&12 ', '\n', '&Kff0000'), {
      maxLength: 8,
    })
    .map((p) => p.join(''));
  it('has a line put in where it belongs, keeps what each part says, and gives it back', () =>
    fc.assert(
      fc.property(
        anyHeader,
        fc.constantFrom<Part>('left', 'centre', 'right'),
        fc.constantFrom('Internal', 'A & B', '&L'),
        (text, align, words) => {
          const put = withLine(text, { text: words, align, size: 10, colour: '#000000' });
          if (put === undefined) return;
          expect(withoutLine(put)).toBe(text);
          const shown = (of: string, part: Part) =>
            partsOf(of)
              .filter((p) => p.part === part)
              .map((p) => of.slice(p.from, p.to))
              .join('|');
          const ours = words.replaceAll('&', '&&');
          expect(shown(put, align)).toContain(ours);
          for (const part of ['left', 'centre', 'right'] as const) {
            const now = shown(put, part).replaceAll('\u2063', '');
            if (part !== align) expect(now.replaceAll('|', '')).toBe(shown(text, part).replaceAll('|', ''));
          }
        },
      ),
      { numRuns: 400 },
    ));
});
