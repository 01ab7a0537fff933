import { mkdir, utimes, writeFile } from 'node:fs/promises';
import { dirname, join } from 'node:path';
import { Document, Packer, Paragraph } from 'docx';
import ExcelJS from 'exceljs';
import PDFDocument from 'pdfkit';
import type { Table } from './papers.ts';

const DAY = 86_400_000;

/** Writes made-up files of real formats below a folder, dated back from `now`. */
export class Writer {
  files = 0;

  constructor(
    readonly root: string,
    readonly now: Date,
  ) {}

  at(daysAgo: number): Date {
    return new Date(this.now.getTime() - daysAgo * DAY);
  }

  day(daysAgo: number): string {
    return this.at(daysAgo).toISOString().slice(0, 10);
  }

  async folder(path: string): Promise<void> {
    await mkdir(join(this.root, path), { recursive: true });
  }

  async file(path: string, content: string | Buffer, daysAgo: number): Promise<void> {
    const whole = join(this.root, path);
    await mkdir(dirname(whole), { recursive: true });
    await writeFile(whole, content);
    await utimes(whole, this.at(daysAgo), this.at(daysAgo));
    this.files++;
  }

  async csv(path: string, rows: readonly (readonly string[])[], daysAgo: number): Promise<void> {
    const line = (row: readonly string[]) =>
      row.map((c) => (/[;"\n]/.test(c) ? `"${c.replaceAll('"', '""')}"` : c)).join(';');
    await this.file(path, `${rows.map(line).join('\n')}\n`, daysAgo);
  }

  async document(path: string, text: string, daysAgo: number): Promise<void> {
    const document = new Document({
      sections: [{ children: text.split('\n').map((l) => new Paragraph(l)) }],
    });
    await this.file(path, await Packer.toBuffer(document), daysAgo);
  }

  async workbook(path: string, { title, rows }: Table, daysAgo: number): Promise<void> {
    const workbook = new ExcelJS.Workbook();
    const sheet = workbook.addWorksheet('List');
    sheet.addRow([title]);
    sheet.addRow([]);
    for (const row of rows) sheet.addRow(row);
    await this.file(path, Buffer.from(await workbook.xlsx.writeBuffer()), daysAgo);
  }

  async pdf(path: string, text: string, daysAgo: number): Promise<void> {
    const document = new PDFDocument({ size: 'A4' });
    const chunks: Buffer[] = [];
    document.on('data', (c: Buffer) => chunks.push(c));
    const ended = new Promise((done) => document.on('end', done));
    document.fontSize(11).text(text).end();
    await ended;
    await this.file(path, Buffer.concat(chunks), daysAgo);
  }
}
