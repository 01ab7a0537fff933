import { createRequire } from 'node:module';
import pdfmake from 'pdfmake';
import type { Content, ContentTable, TDocumentDefinitions } from 'pdfmake/interfaces.js';

const require = createRequire(import.meta.url);
const FONTS = {
  Barlow: {
    normal: require.resolve('@fontsource/barlow/files/barlow-latin-400-normal.woff'),
    bold: require.resolve('@fontsource/barlow/files/barlow-latin-600-normal.woff'),
  },
  Mono: { normal: require.resolve('dejavu-fonts-ttf/ttf/DejaVuSansMono.ttf') },
};
const FILES = Object.values(FONTS).flatMap((f) => Object.values(f));
pdfmake.addFonts(FONTS);
// A document is made of what it is given: it fetches nothing and reads no file but its fonts.
pdfmake.setUrlAccessPolicy(() => false);
pdfmake.setLocalAccessPolicy((path) => FILES.includes(path));

export const INK = '#1c2b33';
export const DIM = '#52636c';
export const MARK = '#a5106b';
export const RULE = '#b9c4c0';
const MARGIN = 50;
/** Of an A4 page between its margins, in points. */
export const WIDTH = 595.28 - 2 * MARGIN;

export interface NewDocument {
  readonly title: string;
  /** At the foot of every page, beside its number. */
  readonly foot: string;
  readonly content: readonly Content[];
}

/** A document as PDF, A4, with its pages numbered. */
export function makeDocument({ title, foot, content }: NewDocument): Promise<Buffer> {
  const definition: TDocumentDefinitions = {
    info: { title, creator: 'Yare Warden' },
    language: 'en',
    displayTitle: true,
    pageSize: 'A4',
    pageMargins: MARGIN,
    defaultStyle: { font: 'Barlow', fontSize: 10, color: INK },
    content: [...content],
    footer: (page: number, pages: number) => ({
      columns: [
        { text: foot, width: '*' },
        { text: `${page} of ${pages}`, width: 60, alignment: 'right' },
      ],
      margin: [MARGIN, 15, MARGIN, 0],
      fontSize: 8,
      color: DIM,
    }),
  };
  return pdfmake.createPdf(definition).getBuffer();
}

export function title(words: string): Content {
  return { text: printable(words), bold: true, fontSize: 22, margin: [0, 0, 0, 4] };
}

/** A heading with a rule below it; what follows begins on the same page. */
export function heading(words: string): Content {
  return {
    stack: [
      { text: printable(words), bold: true, fontSize: 13, headlineLevel: 1 },
      { canvas: [{ type: 'line', x1: 0, y1: 2, x2: WIDTH, y2: 2, lineWidth: 0.5, lineColor: RULE }] },
    ],
    margin: [0, 16, 0, 6],
    unbreakable: true,
  };
}

export function paragraph(words: string, fontSize = 10, color = INK): Content {
  return { text: printable(words, 2000), fontSize, color };
}

/** What a machine wrote or reads: names, digests. */
export function code(words: string, fontSize = 8, color = INK): Content {
  return { text: printable(words), font: 'Mono', fontSize, color };
}

export interface DocumentFigure {
  readonly value: number;
  readonly words: string;
  /** It needs a hand. */
  readonly mark?: boolean;
}

export function figures(all: readonly DocumentFigure[]): Content {
  return {
    columns: all.map(({ value, words, mark }) => ({
      stack: [
        { text: String(value), bold: true, fontSize: 20, color: mark ? MARK : INK },
        { text: words, fontSize: 9, color: DIM },
      ],
    })),
    margin: [0, 6, 0, 8],
  };
}

/** A table whose head stands on every page; `widths` in points. */
export function table(
  widths: readonly number[],
  head: readonly string[],
  rows: readonly (readonly Content[])[],
): ContentTable {
  return {
    table: {
      headerRows: 1,
      dontBreakRows: true,
      widths: [...widths],
      body: [
        head.map((words) => ({ text: words, bold: true, fontSize: 8, color: DIM })),
        ...rows.map((r) => [...r]),
      ],
    },
    layout: {
      hLineWidth: () => 0,
      vLineWidth: () => 0,
      paddingLeft: () => 0,
      paddingRight: () => 6,
      paddingTop: () => 2,
      paddingBottom: () => 2,
    },
  };
}

/** A picture in a frame, as large as it fits; words where it is none. */
export function picture(jpeg: Buffer | undefined, width: number, height: number): Content {
  if (!jpeg) return paragraph('No picture was taken.', 8, DIM);
  if (!isJpeg(jpeg)) return paragraph('The picture cannot be shown.', 8, DIM);
  return { image: `data:image/jpeg;base64,${jpeg.toString('base64')}`, fit: [width, height] };
}

/** Whether these bytes are a JPEG picture with a size (ITU-T T.81, B.1.1.3): one that is none would spoil the document. */
function isJpeg(bytes: Buffer): boolean {
  if (bytes.length < 4 || bytes.readUInt16BE(0) !== 0xffd8) return false;
  for (let at = 2; at + 9 < bytes.length;) {
    const marker = bytes.readUInt16BE(at);
    if (marker < 0xff01) return false;
    // Start of a frame; the three others of this range tell of tables and of arithmetic coding.
    const isFrame = marker >= 0xffc0 && marker <= 0xffcf && ![0xffc4, 0xffc8, 0xffcc].includes(marker);
    if (isFrame) return bytes.readUInt16BE(at + 5) > 0 && bytes.readUInt16BE(at + 7) > 0;
    at += 2 + bytes.readUInt16BE(at + 2);
  }
  return false;
}

/** What the embedded fonts can show, in one line; names come from elsewhere and may hold anything. */
export function printable(text: string, most = 200): string {
  const plain = text
    .replace(/[“”„]/g, '"')
    .replace(/[‘’‚]/g, "'")
    .replace(/☑/g, '+')
    .replace(/…/g, '...')
    .replace(/−/g, '-')
    .replace(/[^\x20-\x7e\u00a0-\u00ff–—]/g, '?');
  return plain.length > most ? `${plain.slice(0, most - 3)}...` : plain;
}
