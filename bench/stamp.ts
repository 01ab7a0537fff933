import { PDFDocument as Pdf } from '@cantoo/pdf-lib';
import { Document, Packer, Paragraph } from 'docx';
import ExcelJS from 'exceljs';
import { unzipSync, zipSync } from 'fflate';
import MailComposer from 'nodemailer/lib/mail-composer/index.js';
import PDFDocument from 'pdfkit';
import PostalMime from 'postal-mime';
import { stampFile } from '../src/core/protection/stamp/stamp-file.ts';
import { Marking } from '../src/core/protection/stamp/marking.ts';
import { figure } from './figure.ts';

const TIMES = Number(process.env['BENCH_TIMES'] ?? 60);
const LEVEL = { id: 'strict', name: 'Strict' };
const MARKING = Marking.parse({
  header: { text: 'Strict · Lotte Bruun' },
  footer: { text: 'Strict' },
  watermark: { text: 'STRICT' },
});
const LINE = 'A passenger asked for a wheelchair at the gangway, and for somebody who speaks Swedish.';

async function word(pages: number): Promise<Uint8Array> {
  const children = Array.from({ length: pages * 40 }, (_, i) => new Paragraph(`${i}: ${LINE}`));
  return new Uint8Array(await Packer.toBuffer(new Document({ sections: [{ children }] })));
}

async function sheet(rows: number): Promise<Uint8Array> {
  const book = new ExcelJS.Workbook();
  const one = book.addWorksheet('Passengers');
  for (let i = 0; i < rows; i++) one.addRow([i, `Passenger ${i}`, LINE, i * 17.5]);
  return new Uint8Array(await book.xlsx.writeBuffer());
}

function pdf(pages: number): Promise<Uint8Array> {
  const made = new PDFDocument({ size: 'A4' });
  const chunks: Buffer[] = [];
  made.on('data', (c: Buffer) => chunks.push(c));
  for (let page = 0; page < pages; page++) {
    if (page > 0) made.addPage();
    for (let i = 0; i < 40; i++) made.text(`${i}: ${LINE}`);
  }
  made.end();
  return new Promise((done) => made.on('end', () => done(new Uint8Array(Buffer.concat(chunks)))));
}

async function message(lines: number): Promise<Uint8Array> {
  const text = Array.from({ length: lines }, (_, i) => `${i}: ${LINE}`).join('\n');
  const made = await new MailComposer({
    ...{ from: 'lotte@line.example', to: 'a@b.example', subject: 'Passengers', text },
    ...{
      html: `<p>${text}</p>`,
      attachments: [{ filename: 'list.docx', content: Buffer.from(await word(20)) }],
    },
  })
    .compile()
    .build();
  return new Uint8Array(made);
}

async function secondsOf(work: () => unknown): Promise<number> {
  await work();
  const begun = performance.now();
  for (let i = 0; i < TIMES; i++) await work();
  return (performance.now() - begun) / 1000 / TIMES;
}

for (const [kind, bytes, base, against] of [
  ['DOCX', await word(20), 'unpacking and packing it', (b: Uint8Array) => zipSync(unzipSync(b))],
  ['XLSX', await sheet(2000), 'unpacking and packing it', (b: Uint8Array) => zipSync(unzipSync(b))],
  [
    'PDF',
    await pdf(20),
    'reading it whole and writing it anew',
    async (b: Uint8Array) => (await Pdf.load(b)).save(),
  ],
  ['EML', await message(400), 'reading it whole', (b: Uint8Array) => PostalMime.parse(Buffer.from(b))],
] as const) {
  const { bytes: made } = await stampFile(bytes, MARKING, LEVEL);
  // One after the other within each round, so that other work on the machine hits both.
  let [ours, theirs] = [0, 0];
  for (let round = 0; round < 3; round++) {
    ours += await secondsOf(() => stampFile(bytes, MARKING, LEVEL));
    theirs += await secondsOf(() => against(bytes));
  }
  figure('stamp', `${kind} of ${Math.round(bytes.length / 1000)} kB stamped`, 3 / ours, 'documents a second');
  figure('stamp', `${kind}: time ÷ that of ${base}`, ours / theirs, 'ratio');
  figure('stamp', `${kind}: bytes afterwards ÷ before`, made.length / bytes.length, 'ratio');
}
