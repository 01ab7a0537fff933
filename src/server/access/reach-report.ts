import PDFDocument from 'pdfkit';
import { dayText } from '../../core/text/day.ts';
import { wideFont } from '../files/wide-font.ts';

const MARGIN = 40;
const [HEAD, INK] = ['#51646b', '#18262b'];
/** The first column takes what the others leave. */
const NARROW = 78;

/** A table of who reaches what, for people to read and file: tagged, on pages that lie. */
export async function reachReport(
  title: string,
  day: string,
  /** That it is not all, where it is not. */
  cut: string | undefined,
  headings: readonly string[],
  rows: readonly (readonly string[])[],
): Promise<Uint8Array> {
  const document = new PDFDocument({
    ...{ size: 'A4', layout: 'landscape', margin: MARGIN, pdfVersion: '1.7', tagged: true, lang: 'en' },
    displayTitle: true,
    font: wideFont() as never,
    info: { Title: title, CreationDate: new Date(day) },
  });
  const parts: Buffer[] = [];
  document.on('data', (part: Buffer) => parts.push(part));
  const ended = new Promise<void>((done, fail) => document.on('end', done).on('error', fail));
  const body = document.struct('Document');
  document.addStructure(body);
  const paragraph = (tag: string, size: number, words: string) =>
    body.add(
      document.struct(tag, {}, () => {
        document.fontSize(size).fillColor(INK).text(words, MARGIN, undefined, { paragraphGap: 6 });
      }),
    );
  paragraph('H1', 15, title);
  paragraph(
    'P',
    10,
    `As it stood on ${dayText(day)}: ${cut ?? `${rows.length} ${rows.length === 1 ? 'line' : 'lines'}.`}`,
  );
  const widths = columnWidths(headings.length, document.page.width - 2 * MARGIN);
  const table = document.struct('Table');
  body.add(table);
  const row = (cells: readonly string[], tag: 'TH' | 'TD') => {
    const height = Math.max(
      ...cells.map((c, i) => document.fontSize(9).heightOfString(c || ' ', { width: (widths[i] ?? 0) - 6 })),
    );
    if (document.y + height > document.page.height - MARGIN) document.addPage();
    const y = document.y;
    const tr = document.struct('TR');
    table.add(tr);
    let x = MARGIN;
    for (const [i, cell] of cells.entries()) {
      const at = x;
      tr.add(
        document.struct(tag, {}, () => {
          document
            .fontSize(9)
            .fillColor(tag === 'TH' ? HEAD : INK)
            .text(cell || ' ', at, y, { width: (widths[i] ?? 0) - 6 });
        }),
      );
      x += widths[i] ?? 0;
    }
    document.y = y + height + 4;
  };
  row(headings, 'TH');
  for (const cells of rows) row(cells, 'TD');
  document.end();
  await ended;
  return new Uint8Array(Buffer.concat(parts));
}

/** Two wide ones, the first and the one that tells the way; the others narrow. */
function columnWidths(columns: number, all: number): readonly number[] {
  const way = columns - 3;
  const wide = (all - (columns - 2) * NARROW) / 2;
  return Array.from({ length: columns }, (_, i) => (i === 0 || i === way ? wide : NARROW));
}
