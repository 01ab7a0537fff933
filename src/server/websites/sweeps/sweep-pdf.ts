import { createRequire } from 'node:module';
import PDFDocument from 'pdfkit';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import { lifetimeWords } from '../../../core/websites/trackers/tracker.ts';
import type { SweepReport } from '../../../core/websites/sweeps/sweep-report.ts';
import { VISITOR_ACTS, VISITOR_WORDS, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import type { SealedReport } from './sweep-end.ts';

const require = createRequire(import.meta.url);
const FONTS = {
  text: require.resolve('@fontsource/barlow/files/barlow-latin-400-normal.woff'),
  bold: require.resolve('@fontsource/barlow/files/barlow-latin-600-normal.woff'),
  mono: require.resolve('dejavu-fonts-ttf/ttf/DejaVuSansMono.ttf'),
} as const;
const INK = '#1c2b33';
const DIM = '#52636c';
const MARK = '#a5106b';
const RULE = '#b9c4c0';
const MARGIN = 50;
/** A report of more is cut short, and says so; the JSON has them all. */
const MOST_ROWS = 1500;

type Doc = InstanceType<typeof PDFDocument>;
type Tracker = SweepReport['trackers'][number];

/** The report of a sweep for people: what was found, with pictures of each visitor's start page, and the proof. */
export async function sweepPdf(
  sealed: SealedReport,
  pictures: ReadonlyMap<Visitor, Buffer>,
): Promise<Buffer> {
  const { report } = sealed;
  const doc = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    lang: 'en',
    displayTitle: true,
    bufferPages: true,
    info: { Title: `Sweep of ${printable(report.site)}`, Creator: 'Yare Warden' },
  });
  const parts: Buffer[] = [];
  doc.on('data', (part: Buffer) => parts.push(part));
  const done = new Promise<Buffer>((ready) => doc.on('end', () => ready(Buffer.concat(parts))));
  for (const [name, file] of Object.entries(FONTS)) doc.registerFont(name, file);
  writeSummary(doc, report);
  writeVisitors(doc, report, pictures);
  writeLeaks(doc, report);
  writeTrackers(doc, report);
  writeNotes(doc, report);
  writeProof(doc, sealed);
  numberPages(doc, report);
  doc.end();
  return done;
}

function writeSummary(doc: Doc, r: SweepReport): void {
  doc
    .font('bold')
    .fontSize(22)
    .fillColor(INK)
    .text(`Sweep of ${printable(r.site)}`);
  doc.moveDown(0.3);
  const took = Math.max(1, Math.round((Date.parse(r.finishedAt) - Date.parse(r.startedAt)) / 60_000));
  say(
    doc,
    `${instant(r.startedAt)} UTC, ${took} ${took === 1 ? 'minute' : 'minutes'}, ${r.state}. Swept as from ${regionName(r.region)}: ${r.regime} (${r.law}).`,
  );
  doc.moveDown(0.6);
  const { counts } = r;
  const figures: [number, string, boolean][] = [
    [counts.pages, 'pages', false],
    [counts.trackers, 'trackers', false],
    [counts.leaks, counts.leaks === 1 ? 'leak' : 'leaks', counts.leaks > 0],
    [counts.unsorted, 'not sorted', false],
    [counts.attempts, 'attempts refused', false],
  ];
  const width = (doc.page.width - 2 * MARGIN) / figures.length;
  const { y } = doc;
  figures.forEach(([value, words, mark], i) => {
    doc
      .font('bold')
      .fontSize(20)
      .fillColor(mark ? MARK : INK);
    doc.text(String(value), MARGIN + i * width, y, { width });
    doc
      .font('text')
      .fontSize(9)
      .fillColor(DIM)
      .text(words, MARGIN + i * width, y + 25, { width });
  });
  doc.x = MARGIN;
  doc.y = y + 46;
  say(
    doc,
    counts.leaks > 0
      ? `${counts.leaks === 1 ? '1 tracker runs' : `${counts.leaks} trackers run`} without permission.`
      : counts.unsorted > 0
        ? 'No tracker with a purpose runs without permission; some have no purpose yet.'
        : 'Nothing was seen to run without permission.',
  );
}

function writeVisitors(doc: Doc, r: SweepReport, pictures: ReadonlyMap<Visitor, Buffer>): void {
  heading(doc, 'As which visitors');
  const width = 230;
  const height = 145;
  r.visitors.forEach((v, i) => {
    const left = MARGIN + (i % 2) * (width + 35);
    if (i % 2 === 0) room(doc, height + 60);
    const top = doc.y;
    const picture = pictures.get(v.visitor);
    doc.font('bold').fontSize(10).fillColor(INK).text(VISITOR_WORDS[v.visitor], left, top, { width });
    const acted = v.tried
      ? `${VISITOR_ACTS[v.visitor]}${v.operated ? `: ${v.operated}` : ''}, ${v.pages.length} pages`
      : 'could not be tried: no notice was found to answer';
    doc
      .font('text')
      .fontSize(8)
      .fillColor(DIM)
      .text(printable(acted), left, top + 13, { width, height: 20, ellipsis: true });
    if (picture)
      try {
        doc
          .image(picture, left, top + 36, { fit: [width, height] })
          .rect(left, top + 36, width, height)
          .lineWidth(0.5)
          .stroke(RULE);
      } catch {
        doc.text('The picture cannot be shown.', left, top + 36, { width });
      }
    else doc.text('No picture was taken.', left, top + 36, { width });
    doc.x = MARGIN;
    doc.y = i % 2 === 1 || i === r.visitors.length - 1 ? top + height + 50 : top;
  });
}

function writeLeaks(doc: Doc, r: SweepReport): void {
  const leaks = r.trackers.filter((t) => t.leaks.length > 0);
  if (leaks.length === 0) return;
  heading(doc, 'Without permission');
  for (const t of leaks.slice(0, MOST_ROWS)) {
    room(doc, 70);
    doc.font('mono').fontSize(10).fillColor(MARK).text(printable(t.name, 90), { continued: true });
    doc
      .font('text')
      .fontSize(10)
      .fillColor(INK)
      .text(`  ${t.kind} of ${printable(t.host, 80)}, ${purposeName(r.purposes, t.purpose)}`);
    for (const v of t.leaks) {
      const verdict = t.verdicts[v];
      say(doc, `${VISITOR_WORDS[v]}: ${verdict?.why ?? ''}`, 9);
    }
    const law = t.verdicts[t.leaks[0] as Visitor]?.law ?? '';
    say(
      doc,
      `Law: ${law}. On ${t.pages} ${t.pages === 1 ? 'page' : 'pages'}, first ${t.sightings[0]?.firstPage ?? ''}`,
      8,
      DIM,
    );
    if (t.cause.length > 0) say(doc, `Who did it: ${t.cause.map(causeWords).join('  >  ')}`, 8, DIM);
    doc.moveDown(0.5);
  }
}

function writeTrackers(doc: Doc, r: SweepReport): void {
  heading(doc, 'All trackers');
  const tried = r.visitors.filter((v) => v.tried).map((v) => v.visitor);
  const widths = [140, 72, 118, 112, 53];
  const row = (cells: readonly string[], font: 'text' | 'bold' | 'mono', colour: string) => {
    room(doc, 24);
    const { y } = doc;
    let x = MARGIN;
    cells.forEach((cell, i) => {
      const width = widths[i] ?? 60;
      doc
        .font(i === 0 && font === 'text' ? 'mono' : font)
        .fontSize(i === 0 ? 7 : 8)
        .fillColor(colour);
      doc.text(cell, x, y, { width: width - 6, height: 20, ellipsis: true });
      x += width;
    });
    doc.x = MARGIN;
    doc.y = y + 22;
  };
  row(['Name', 'Kind', 'Reaches', 'Purpose', 'Lives'], 'bold', DIM);
  for (const t of r.trackers.slice(0, MOST_ROWS)) {
    const purpose = `${purposeName(r.purposes, t.purpose)}${t.decided || t.purpose === null ? '' : ' (proposed)'}`;
    row(
      [
        printable(t.name, 80),
        t.kind,
        printable(t.host, 60),
        purpose,
        lifetimeWords(t, t.lifetime).replace('–', ''),
      ],
      'text',
      t.leaks.length > 0 ? MARK : INK,
    );
    doc.y -= 4;
    say(
      doc,
      `      seen: ${tried
        .map((v) => seenWords(t, v))
        .filter(Boolean)
        .join(', ')}`,
      7,
      DIM,
    );
  }
  if (r.trackers.length > MOST_ROWS)
    say(doc, `${r.trackers.length - MOST_ROWS} more are in the JSON export.`);
}

function seenWords(t: Tracker, visitor: Visitor): string {
  const verdict = t.verdicts[visitor]?.verdict;
  if (!verdict || verdict === 'not seen') return '';
  return `${VISITOR_WORDS[visitor].toLowerCase()}${verdict === 'allowed' ? '' : ` (${verdict})`}`;
}

function writeNotes(doc: Doc, r: SweepReport): void {
  if (r.notes.length === 0) return;
  heading(doc, 'Out of the ordinary');
  for (const n of r.notes) say(doc, `${n.visitor ? `${VISITOR_WORDS[n.visitor]}: ` : ''}${n.words}`, 9);
}

function writeProof(doc: Doc, { digest, ledgerId, proof, matches }: SealedReport): void {
  heading(doc, 'Proof');
  say(
    doc,
    'This report was made from the JSON export of the sweep. The SHA-256 of that export’s canonical form (RFC 8785) was written to the ledger when the sweep ended:',
    9,
  );
  doc.font('mono').fontSize(8).fillColor(INK).text(digest);
  doc.moveDown(0.4);
  if (!proof) {
    say(
      doc,
      `Ledger entry ${ledgerId}. The ledger is sealed every few seconds; export again for the proof.`,
      9,
    );
    return;
  }
  say(
    doc,
    `Ledger entry ${ledgerId}, number ${proof.index} in tree ${proof.tree.number}, sealed ${instant(proof.tree.sealedAt)} UTC. ${matches ? 'The entry holds this digest.' : 'The entry does NOT hold this digest: the report was changed.'} Tree root, head after it, and path from the entry to the root (RFC 6962):`,
    9,
  );
  for (const hash of [proof.tree.root, proof.tree.head, ...proof.path])
    doc.font('mono').fontSize(7).fillColor(DIM).text(hash);
}

function numberPages(doc: Doc, r: SweepReport): void {
  const { start, count } = doc.bufferedPageRange();
  for (let i = start; i < start + count; i++) {
    doc.switchToPage(i);
    doc.page.margins.bottom = 0;
    doc
      .font('text')
      .fontSize(8)
      .fillColor(DIM)
      .text(`${printable(r.site)}, ${instant(r.startedAt)} UTC`, MARGIN, doc.page.height - 35, {
        lineBreak: false,
      })
      .text(`${i + 1} of ${count}`, doc.page.width - MARGIN - 60, doc.page.height - 35, {
        width: 60,
        align: 'right',
        lineBreak: false,
      });
  }
}

function heading(doc: Doc, words: string): void {
  room(doc, 90);
  doc.moveDown(1);
  doc.font('bold').fontSize(13).fillColor(INK).text(words, MARGIN);
  doc
    .moveTo(MARGIN, doc.y + 2)
    .lineTo(doc.page.width - MARGIN, doc.y + 2)
    .lineWidth(0.5)
    .stroke(RULE);
  doc.moveDown(0.6);
}

function say(doc: Doc, words: string, size = 10, colour = INK): void {
  doc
    .font('text')
    .fontSize(size)
    .fillColor(colour)
    .text(printable(words, 2000), MARGIN, doc.y, {
      width: doc.page.width - 2 * MARGIN,
    });
}

function room(doc: Doc, height: number): void {
  if (doc.y + height > doc.page.height - MARGIN) doc.addPage();
}

function causeWords({ url, line }: Tracker['cause'][number]): string {
  return printable(url.replace(/^https?:\/\//, '').replace(/\?.*/, ''), 90) + (line ? ` line ${line}` : '');
}

function instant(iso: string): string {
  return `${iso.slice(0, 10)} ${iso.slice(11, 16)}`;
}

/** What the embedded fonts can show, in one line; names come from websites and may hold anything. */
function printable(text: string, most = 200): string {
  const plain = text
    .replace(/[“”„]/g, '"')
    .replace(/[‘’‚]/g, "'")
    .replace(/☑/g, '+')
    .replace(/…/g, '...')
    .replace(/[^\x20-\x7e\u00a0-\u00ff–—]/g, '?');
  return plain.length > most ? `${plain.slice(0, most - 3)}...` : plain;
}
