import { readFileSync } from 'node:fs';
import { createRequire } from 'node:module';
import { degrees, PDFDocument, PDFName } from '@cantoo/pdf-lib';
import PDFKit from 'pdfkit';
import { extractText, getDocumentProxy, getMeta } from 'unpdf';
import { describe, expect, it } from 'vitest';
import { Marking } from './marking.ts';
import { isPdf, readPdfLevel, stampPdf, unstampPdf } from './stamp-pdf.ts';

const STRICT = { id: 'strict', name: 'Streng vertraulich <Ø>' };
const OPEN = { id: 'open', name: 'Open' };
const FULL = Marking.parse({
  header: { text: 'Streng vertraulich', colour: '#7a1431', size: 12 },
  footer: { text: 'Lotte Bruun · 29 Nov 2026', size: 9, align: 'right' },
  watermark: { text: 'VERTRAULICH', size: 60, angle: 40 },
});
const FOOT = Marking.parse({ footer: { text: 'For everybody' } });
const WIDE = new Uint8Array(
  readFileSync(createRequire(import.meta.url).resolve('dejavu-fonts-ttf/ttf/DejaVuSans.ttf')),
);

function made(
  options: ConstructorParameters<typeof PDFKit>[0],
  write: (pdf: InstanceType<typeof PDFKit>) => void,
): Promise<Uint8Array> {
  const pdf = new PDFKit(options);
  const chunks: Buffer[] = [];
  pdf.on('data', (c: Buffer) => chunks.push(c));
  write(pdf);
  pdf.end();
  return new Promise((done) => pdf.on('end', () => done(new Uint8Array(Buffer.concat(chunks)))));
}

async function rewritten(change: (pdf: PDFDocument) => void, objectStreams = true): Promise<Uint8Array> {
  const pdf = await PDFDocument.create();
  pdf.addPage([400, 300]).drawText('Manifest of MS Hale', { x: 40, y: 150 });
  change(pdf);
  return new Uint8Array(await pdf.save({ useObjectStreams: objectStreams }));
}

const twoPages = await made({ size: 'A4' }, (p) =>
  p.text('Page one').addPage({ layout: 'landscape' }).text('Page two'),
);
const KINDS: readonly (readonly [string, Uint8Array])[] = [
  ['upright and across', twoPages],
  ['with object streams', await rewritten(() => {})],
  ['without them', await rewritten(() => {}, false)],
  ...(await Promise.all(
    [90, 180, 270, -90].map(
      async (turn) =>
        [`turned by ${turn}`, await rewritten((p) => p.getPage(0).setRotation(degrees(turn)))] as const,
    ),
  )),
  ['cropped', await rewritten((p) => p.getPage(0).setCropBox(50, 40, 200, 180))],
  ['with a form', await rewritten((p) => p.getForm().createTextField('name').addToPage(p.getPage(0)))],
  [
    'with metadata',
    await made({ info: { Title: 'Crew list', Author: 'Osei Darko' } }, (p) => p.text('Crew')),
  ],
  ['behind other bytes', new Uint8Array(Buffer.concat([Buffer.from('\n\n'), twoPages]))],
];

/** Each text of a page with where it stands as seen, by an independent reader. */
async function textsOf(bytes: Uint8Array, page = 1) {
  const pdf = await getDocumentProxy(new Uint8Array(bytes));
  const shown = await pdf.getPage(page);
  const view = shown.getViewport({ scale: 1 });
  const { items } = await shown.getTextContent();
  return items.flatMap((i) => {
    if (!('str' in i) || i.str.trim() === '') return [];
    const [x, y] = view.convertToViewportPoint(i.transform[4] as number, i.transform[5] as number) as [
      number,
      number,
    ];
    return [{ text: i.str, x, fromTop: y, width: view.width, height: view.height }];
  });
}

describe('a PDF', () => {
  it.each(KINDS)(
    '%s is stamped on every page, told, and as it was once that is taken off',
    async (_, bytes) => {
      const stamped = await stampPdf(bytes, FULL, STRICT);
      expect(Buffer.from(stamped.subarray(0, bytes.length)).equals(bytes)).toBe(true);
      expect(await readPdfLevel(stamped)).toEqual(STRICT);
      expect(await readPdfLevel(bytes)).toBeUndefined();
      const { totalPages } = await extractText(await getDocumentProxy(new Uint8Array(stamped)));
      for (let page = 1; page <= totalPages; page++) {
        const texts = await textsOf(stamped, page);
        const before = (await textsOf(bytes, page)).map((t) => t.text);
        expect(texts.map((t) => t.text)).toEqual(expect.arrayContaining(before));
        const top = texts.find((t) => t.text === 'Streng vertraulich')!;
        const foot = texts.find((t) => t.text.startsWith('Lotte Bruun'))!;
        const across = texts.find((t) => t.text === 'VERTRAULICH')!;
        // As a reader shows the page, whatever way it is turned.
        expect(top.fromTop).toBeLessThan(45);
        expect(foot.fromTop).toBeGreaterThan(foot.height - 45);
        expect(foot.x).toBeGreaterThan(top.x);
        expect(across.x).toBeLessThan(across.width / 2);
        expect(across.fromTop).toBeGreaterThan(across.height / 2);
      }
      const bare = unstampPdf(stamped);
      expect(Buffer.from(bare).equals(bytes)).toBe(true);
    },
  );

  it('stamped twice is the same, and another level replaces what was stamped', async () => {
    const once = await stampPdf(twoPages, FULL, STRICT);
    expect(Buffer.from(await stampPdf(once, FULL, STRICT)).equals(once)).toBe(true);
    const lowered = await stampPdf(once, FOOT, OPEN);
    expect(Buffer.from(await stampPdf(twoPages, FOOT, OPEN)).equals(lowered)).toBe(true);
    expect(await readPdfLevel(lowered)).toEqual(OPEN);
    expect((await textsOf(lowered)).map((t) => t.text)).toEqual(expect.arrayContaining(['For everybody']));
    expect((await textsOf(lowered)).some((t) => t.text === 'VERTRAULICH')).toBe(false);
  });

  it('keeps the metadata that it has beside the level', async () => {
    const bytes = KINDS.find(([name]) => name === 'with metadata')![1];
    const { info } = await getMeta(
      await getDocumentProxy(new Uint8Array(await stampPdf(bytes, FULL, STRICT))),
    );
    expect(info).toMatchObject({ Title: 'Crew list', Author: 'Osei Darko' });
  });

  it('is written on in the letters of other scripts, where a font has them', async () => {
    const marking = Marking.parse({ header: { text: 'Строго секретно · سري' } });
    await expect(stampPdf(twoPages, marking, STRICT)).rejects.toMatchObject({ why: 'no room' });
    const stamped = await stampPdf(twoPages, marking, STRICT, WIDE);
    expect((await textsOf(stamped)).map((t) => t.text).join(' ')).toContain('Строго секретно');
    expect(Buffer.from(await stampPdf(stamped, marking, STRICT, WIDE)).equals(stamped)).toBe(true);
    // Of the font, only the letters it needs.
    expect(stamped.length - twoPages.length).toBeLessThan(WIDE.length / 4);
  });

  it('makes a text that is too long small enough for the page', async () => {
    const marking = Marking.parse({ header: { text: 'Confidential '.repeat(20).trim(), size: 24 } });
    const [first] = (await textsOf(await stampPdf(twoPages, marking, STRICT))).filter((t) =>
      t.text.startsWith('Confidential'),
    );
    expect(first?.x).toBeGreaterThanOrEqual(35);
  });

  it.each([
    ['encrypted', () => made({ userPassword: 'berth 4' }, (p) => p.text('Secret'))],
    ['encrypted', () => made({ ownerPassword: 'berth 4' }, (p) => p.text('To read only'))],
    [
      'signed',
      async () => new Uint8Array(Buffer.concat([twoPages, Buffer.from('\n% /ByteRange [0 1 2 3]\n')])),
    ],
    [
      'signed',
      () =>
        rewritten((p) => p.catalog.set(PDFName.of('AcroForm'), p.context.obj({ SigFlags: 3, Fields: [] }))),
    ],
    ['damaged', async () => twoPages.subarray(0, 200)],
    ['damaged', async () => new Uint8Array(Buffer.from('%PDF-1.7\nnothing'))],
  ] as const)('is refused where it is %s', async (why, of) => {
    await expect(stampPdf(await of(), FULL, STRICT)).rejects.toMatchObject({ why });
  });

  it('that another program wrote to since is neither stamped anew nor cut off', async () => {
    const stamped = await stampPdf(twoPages, FULL, STRICT);
    const pdf = await PDFDocument.load(stamped);
    pdf.getPage(0).drawText('Seen by the purser', { x: 50, y: 50 });
    const theirs = new Uint8Array(await pdf.save());
    await expect(stampPdf(theirs, FOOT, OPEN)).rejects.toMatchObject({ why: 'changed' });
    expect(await readPdfLevel(theirs)).toEqual(STRICT);
    const appended = new Uint8Array(Buffer.concat([stamped, Buffer.from('\n% a note\n')]));
    expect(() => unstampPdf(appended)).toThrow(/another program/i);
  });

  it('is known by its beginning', () => {
    expect(KINDS.every(([, bytes]) => isPdf(bytes))).toBe(true);
    expect(isPdf(new Uint8Array(Buffer.from('PK\u0003\u0004')))).toBe(false);
  });
});

describe('a PDF that was cut short', () => {
  it.each([9, 40, 200, 600])('after %d bytes is told as damaged, stamped or read', async (length) => {
    const cut = twoPages.slice(0, length);
    await expect(stampPdf(cut, FULL, STRICT)).rejects.toMatchObject({ why: 'damaged' });
    await expect(readPdfLevel(cut)).rejects.toMatchObject({ why: 'damaged' });
  });
});
