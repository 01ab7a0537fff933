import { gzipSync } from 'node:zlib';
import { chance, train, type Example } from '../src/core/holdings/detection/learned/learned.ts';
import { findRecords, RosterBuilder, ROSTER_RULES } from '../src/core/holdings/detection/roster/roster.ts';
import { extract } from '../src/server/files/extract/extract.ts';
import { docx, paragraph, pdf, xlsx, zip } from '../tests/integration/holdings/sample-files.ts';
import { figure } from './figure.ts';

const MB = 1e6;
const seconds = (begun: number) => (performance.now() - begun) / 1000;

/** A roster of a million rows: how long it takes to build, what it holds, how many values a second it is asked. */
export function benchRoster(): void {
  const rows = 1_000_000;
  const key = new Uint8Array(16).fill(7);
  const begun = performance.now();
  const builder = new RosterBuilder(
    {
      id: 'club',
      name: 'Club',
      version: 1,
      headings: ['number', 'name'],
      columns: { keys: [0], corroborating: [1] },
      expected: rows,
    },
    key,
  );
  for (let i = 0; i < rows; i++) builder.add([String(10_000_000 + i * 7), `Member ${i}`]);
  const roster = builder.done();
  figure('detect', 'roster_build_s', seconds(begun), 's');
  const bytes =
    roster.high.byteLength +
    roster.low.byteLength +
    roster.rowOf.byteLength +
    roster.columnOf.byteLength +
    roster.beside.byteLength;
  figure('detect', 'roster_mb', bytes / MB, 'MB');
  const random = chance(1);
  const text = Array.from({ length: 100_000 }, () =>
    String(10_000_000 + Math.floor(random() * 14_000_000)),
  ).join(' ');
  const asked = performance.now();
  const { findings } = findRecords(roster, ROSTER_RULES, key, { text, segments: [] });
  figure('detect', 'roster_lookups_per_s', 100_000 / seconds(asked), 'lookups/s');
  figure('detect', 'roster_found', findings.length, 'findings');
}

/** Five hundred examples and as many counter-examples of three hundred words. */
export function benchTraining(): void {
  const random = chance(2);
  const words = Array.from({ length: 4000 }, (_, i) => `word${i.toString(36)}`);
  const examples: Example[] = Array.from({ length: 1000 }, (_, n) => ({
    name: String(n),
    positive: n < 500,
    text: Array.from(
      { length: 300 },
      () => words[Math.floor((n < 500 ? random() : random() * 0.8 + 0.2) * 4000)],
    ).join(' '),
  }));
  const begun = performance.now();
  const { judgement } = train(examples, 1, { falseAlarm: 1, miss: 1 });
  figure('detect', 'train_500_500_s', seconds(begun), 's');
  figure('detect', 'train_f1', judgement.f1.value, 'share');
}

const LINE = 'Anna Sørensen;010180-1234;anna@x.example;Halmsund;The ship leaves the quay at noon';

/** A file of each format, with some megabytes of text in it. */
async function files(): Promise<Readonly<Record<string, string | Buffer>>> {
  const lines = (count: number, parted = '\n') => `${LINE}${parted}`.repeat(count);
  const csv = `name;cpr;email;town;note\n${lines(60_000)}`;
  const person = { name: 'Anna Sørensen', note: 'The ship leaves the quay at noon' };
  const cells = LINE.split(';');
  const mail = `From: anna@x.example\r\nTo: tove@x.example\r\nSubject: Crew\r\nMIME-Version: 1.0\r\nContent-Type: text/plain; charset=utf-8\r\n\r\n`;
  return {
    'text.txt': lines(60_000),
    'table.csv': csv,
    'table.csv.gz': gzipSync(csv),
    'tables.zip': await zip({ 'a.csv': csv, 'b.csv': csv }),
    'records.json': JSON.stringify(Array.from({ length: 40_000 }, (_, id) => ({ id, ...person }))),
    'records.xml': `<all>${'<person><name>Anna</name><note>The ship leaves the quay</note></person>'.repeat(40_000)}</all>`,
    'page.html': `<html><body>${'<p>The ship <b>leaves</b> the quay at noon</p>'.repeat(40_000)}</body></html>`,
    'notes.md': `# Crew\n\n|name|cpr|email|town|note|\n|-|-|-|-|-|\n${lines(30_000).replaceAll(';', '|')}`,
    'letter.docx': await docx(paragraph(LINE).repeat(20_000)),
    'crew.xlsx': await xlsx([
      ['name', 'cpr', 'email', 'town', 'note'],
      ...Array.from({ length: 10_000 }, () => cells),
    ]),
    'slides.pptx': await zip({
      'ppt/presentation.xml': '<p/>',
      'ppt/slides/slide1.xml': `<p:sld xmlns:p="p" xmlns:a="a">${`<a:p><a:r><a:t>${LINE}</a:t></a:r></a:p>`.repeat(20_000)}</p:sld>`,
    }),
    'letter.odt': await zip({
      mimetype: 'application/vnd.oasis.opendocument.text',
      'content.xml': `<o xmlns:text="t">${`<text:p>${LINE}</text:p>`.repeat(20_000)}</o>`,
    }),
    'letter.rtf': `{\\rtf1\\ansi ${lines(10_000, '\\par\n').replaceAll('ø', "\\'f8")}}`,
    'letter.pdf': await pdf(lines(4000)),
    'mail.eml': `${mail}${lines(20_000, '\r\n')}`,
    'mails.mbox': Array.from(
      { length: 200 },
      () => `From anna@x.example Mon Nov 23 10:00:00 2026\n${mail}${lines(100)}\n`,
    ).join(''),
    'cards.vcf': 'BEGIN:VCARD\r\nVERSION:4.0\r\nFN:Anna Sørensen\r\nTEL:+4532145566\r\nEND:VCARD\r\n'.repeat(
      5000,
    ),
    'dates.ics': `BEGIN:VCALENDAR\r\n${'BEGIN:VEVENT\r\nUID:1\r\nSUMMARY:Sailing\r\nDESCRIPTION:Noon\r\nEND:VEVENT\r\n'.repeat(5000)}END:VCALENDAR\r\n`,
  };
}

/** Megabytes a second: of files as they lie on a disk, of packed ones of the text that is in them. */
export async function benchExtraction(): Promise<void> {
  for (const [name, content] of Object.entries(await files())) {
    const bytes = Buffer.from(content);
    const begun = performance.now();
    const { text } = await extract(name, bytes);
    const took = seconds(begun);
    const packed = /\.(?:gz|zip|docx|xlsx|pptx|odt|pdf)$/.test(name);
    const kind = name.slice(name.lastIndexOf('.') + 1);
    figure('detect', `extract_${kind}_mb_per_s`, (packed ? text.length : bytes.length) / MB / took, 'MB/s');
  }
}
