import { createReadStream, createWriteStream } from 'node:fs';
import { rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { randomUUID } from 'node:crypto';
import Excel from 'exceljs';
import type { Content } from 'pdfmake/interfaces.js';
import { MOST_PRINTED, type Format } from '../../../core/evidence/reports/report.ts';
import { DIM, heading, makeDocument, paragraph, table, title, WIDTH } from '../../files/document.ts';
import { csvLine, safeCell, type Cell } from '../../http/csv.ts';

/** What stands at the head of a report. */
export interface ReportHead {
  readonly title: string;
  /** What it tells, of which days, for whom, in a line each. */
  readonly lines: readonly string[];
  /** The last sealed tree of the ledger when it was made: nothing later is in it. */
  readonly ledger: { readonly tree: number; readonly head: string } | null;
}

type Rows = AsyncIterable<readonly Cell[]>;

/** Counts lines as they pass. */
export interface Counted {
  lines: number;
}

/** A report as bytes, written as its rows come; the first row is the head of the table. */
export function writeReport(
  format: Format,
  head: ReportHead,
  rows: Rows,
  counted: Counted,
): AsyncIterable<Uint8Array> {
  const passing = counting(rows, counted);
  switch (format) {
    case 'csv':
      return csvBytes(passing);
    case 'json':
      return jsonBytes(head, passing);
    case 'xlsx':
      return xlsxBytes(head, passing);
    case 'pdf':
      return pdfBytes(head, passing);
  }
}

/** Rows as they pass, their head not counted. */
export async function* counting(rows: Rows, counted: Counted): AsyncGenerator<readonly Cell[]> {
  let isHead = true;
  for await (const row of rows) {
    if (!isHead) counted.lines += 1;
    isHead = false;
    yield row;
  }
}

/** Bytes that are handed on together. */
const CHUNK = 64_000;

async function* chunks(texts: AsyncIterable<string>): AsyncGenerator<Uint8Array> {
  let held = '';
  for await (const text of texts) {
    held += text;
    if (held.length < CHUNK) continue;
    yield Buffer.from(held);
    held = '';
  }
  if (held) yield Buffer.from(held);
}

function csvBytes(rows: Rows): AsyncIterable<Uint8Array> {
  return chunks(
    (async function* () {
      for await (const row of rows) yield csvLine(row);
    })(),
  );
}

function jsonBytes(head: ReportHead, rows: Rows): AsyncIterable<Uint8Array> {
  return chunks(
    (async function* () {
      yield `{"report":${JSON.stringify(head)},"rows":[`;
      let names: readonly string[] | undefined;
      let isFirst = true;
      for await (const row of rows) {
        if (!names) {
          names = row.map(String);
          continue;
        }
        const of = names;
        yield `${isFirst ? '\n' : ',\n'}${JSON.stringify(Object.fromEntries(row.map((cell, i) => [of[i] ?? String(i), cell])))}`;
        isFirst = false;
      }
      yield '\n]}\n';
    })(),
  );
}

/** A sheet holds 1,048,576 rows (ECMA-376); what is beyond goes on the next. */
const MOST_ON_SHEET = 1_000_000;
/** After so many rows those that were written are let out of memory. */
const WAIT_EVERY = 5000;

async function* xlsxBytes(head: ReportHead, rows: Rows): AsyncGenerator<Uint8Array> {
  const file = join(tmpdir(), `yare-report-${randomUUID()}.xlsx`);
  try {
    const stream = createWriteStream(file, { mode: 0o600 });
    const broken = new Promise<never>((_, fail) => stream.once('error', fail));
    broken.catch(() => {});
    const book = new Excel.stream.xlsx.WorkbookWriter({ stream, useSharedStrings: false, useStyles: false });
    const about = book.addWorksheet('About');
    for (const line of [head.title, ...head.lines, ...ledgerLines(head)])
      about.addRow([safeCell(line)]).commit();
    about.commit();
    let sheet: Excel.Worksheet | undefined;
    let names: readonly Cell[] = [];
    let written = 0;
    for await (const row of rows) {
      if (!sheet) {
        sheet = book.addWorksheet('Rows');
        names = row;
      } else if (written % MOST_ON_SHEET === 0 && written > 0) {
        sheet.commit();
        sheet = book.addWorksheet(`Rows ${written / MOST_ON_SHEET + 1}`);
        sheet.addRow(names.map(sheetCell)).commit();
      }
      sheet.addRow(row.map(sheetCell)).commit();
      written += 1;
      if (written % WAIT_EVERY === 0 && stream.writableNeedDrain)
        await Promise.race([new Promise<void>((done) => stream.once('drain', () => done())), broken]);
    }
    sheet?.commit();
    await Promise.race([book.commit(), broken]);
    yield* createReadStream(file) as AsyncIterable<Uint8Array>;
  } finally {
    await rm(file, { force: true });
  }
}

/** No cell of a sheet holds more. */
const LONGEST_CELL = 32_000;

function sheetCell(cell: Cell): string | number | null {
  return typeof cell === 'string' ? safeCell(cell).slice(0, LONGEST_CELL) : cell;
}

/** At which head the ledger stood. */
export function ledgerLines({ ledger }: Pick<ReportHead, 'ledger'>): readonly string[] {
  return ledger
    ? [`The ledger stood at tree ${ledger.tree} when it was made, with the head ${ledger.head}.`]
    : ['Nothing was sealed in the ledger when it was made.'];
}

async function* pdfBytes(head: ReportHead, rows: Rows): AsyncGenerator<Uint8Array> {
  const printed: (readonly Cell[])[] = [];
  let more = 0;
  for await (const row of rows)
    if (printed.length <= MOST_PRINTED) printed.push(row);
    else more += 1;
  const [names = [], ...lines] = printed;
  const shown = names.length;
  const width = WIDTH / Math.max(1, shown);
  const content: Content[] = [
    title(head.title),
    ...head.lines.map((l) => paragraph(l, 9, DIM)),
    ...ledgerLines(head).map((l) => paragraph(l, 7, DIM)),
    heading(lines.length === 0 ? 'Nothing is in it' : 'Rows'),
    ...(lines.length === 0
      ? []
      : [
          table(
            names.map(() => width),
            names.map(String),
            lines.map((row) => row.map((cell) => paragraph(String(cell ?? ''), shown > 6 ? 6 : 8))),
          ),
        ]),
    ...(more > 0
      ? [
          paragraph(
            `${more.toLocaleString('en-GB')} rows more: make it as XLSX, CSV or JSON to have them.`,
            9,
          ),
        ]
      : []),
  ];
  yield await makeDocument({ title: head.title, foot: head.title, content });
}
