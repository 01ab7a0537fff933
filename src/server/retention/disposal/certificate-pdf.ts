import PDFDocument from 'pdfkit';
import type { ProvenCertificate } from '../../../core/retention/disposal/certificate.ts';
import { dayText } from '../../../core/text/day.ts';
import { wideFont } from '../../files/wide-font.ts';

const [MARGIN, LABEL] = [56, 150];
/** Items that the paper lists; all of them stand in the JSON, and in the root. */
const MOST_ITEMS = 400;

/** A certificate for people to read and file: tagged, with everything a reader needs to check it against the JSON. */
export async function certificatePdf({ certificate: c, proof }: ProvenCertificate): Promise<Uint8Array> {
  const document = new PDFDocument({
    size: 'A4',
    margin: MARGIN,
    pdfVersion: '1.7',
    tagged: true,
    lang: 'en',
    displayTitle: true,
    font: wideFont() as never,
    info: { Title: `Certificate of disposal ${c.disposal}`, CreationDate: new Date(c.ended) },
  });
  const parts: Buffer[] = [];
  document.on('data', (part: Buffer) => parts.push(part));
  const ended = new Promise<void>((done, fail) => document.on('end', done).on('error', fail));
  const body = document.struct('Document');
  document.addStructure(body);
  const text = (tag: string, size: number, words: string, options: { indent?: number; gap?: number } = {}) =>
    body.add(
      document.struct(tag, {}, () => {
        document.fontSize(size).text(words, MARGIN + (options.indent ?? 0), undefined, {
          paragraphGap: options.gap ?? 4,
        });
      }),
    );
  const line = (label: string, words: string) =>
    body.add(
      document.struct('P', {}, () => {
        const y = document.y;
        document
          .fontSize(9)
          .fillColor('#51646b')
          .text(label, MARGIN, y, { width: LABEL - 10 });
        const below = document.y;
        document.fillColor('#18262b').text(words || '–', MARGIN + LABEL, y, { paragraphGap: 5 });
        document.y = Math.max(document.y, below + 5);
      }),
    );
  text('H1', 18, `Certificate of disposal ${c.disposal}`, { gap: 10 });
  text(
    'P',
    11,
    `${count(c.counts.gone, 'item')}, ${c.counts.bytes.toLocaleString('en-GB')} bytes in all, went for good between ${instant(c.begun)} and ${instant(c.ended)}.`,
    { gap: 12 },
  );
  line('Rule', `${c.rule.name}${c.rule.version > 0 ? `, version ${c.rule.version}` : ''}`);
  line('Duty', c.rule.duty);
  line('What followed', c.follows);
  line(
    'Agreed to by',
    c.agreed.map((a) => `${a.name}, ${instant(a.at)}`).join('\n') || 'the rule, which asks nobody',
  );
  line('How', [...new Set(c.items.map((i) => i.method))].join('; '));
  for (const s of c.sources)
    line(s.name, `${count(s.items, 'item')}, ${s.bytes.toLocaleString('en-GB')} bytes`);
  line(
    'Stayed',
    `${count(c.counts.kept, 'item')} kept, ${c.counts.failed} could not be let go, ${c.counts.back} put back`,
  );
  line(
    'Copies left',
    c.copies.length === 0
      ? 'none that is known'
      : c.copies.map((x) => `item ${x.item} in ${x.where}, of item ${x.of}`).join('\n'),
  );
  text('H2', 12, 'Proof', { gap: 6 });
  line('Root of the items', c.root);
  line('Rule, as it said then', c.rule.digest);
  if (proof) {
    line('Entry of the ledger', `${proof.entry.id}, ${proof.entry.at}`);
    line('Tree and its head', `${proof.tree.number}, ${proof.tree.head}`);
  } else line('Entry of the ledger', 'not sealed yet when this was made; ask for it again');
  text(
    'P',
    9,
    'Each item is a leaf of a Merkle tree (RFC 6962) in its canonical JSON (RFC 8785). The JSON of this certificate holds all of them and the way to the head; ./yare verify-ledger checks it, and so can any other program.',
    { gap: 12 },
  );
  text('H2', 12, 'Items, by the SHA-256 of their bytes', { gap: 6 });
  for (const i of c.items.slice(0, MOST_ITEMS))
    text('P', 7.5, `${i.item}   ${i.hash}   ${i.bytes.toLocaleString('en-GB')} bytes   ${i.at}`, { gap: 1 });
  if (c.items.length > MOST_ITEMS) text('P', 9, `… and ${c.items.length - MOST_ITEMS} more, in the JSON.`);
  body.end();
  document.end();
  await ended;
  return new Uint8Array(Buffer.concat(parts));
}

function count(n: number, one: string): string {
  return `${n.toLocaleString('en-GB')} ${n === 1 ? one : `${one}s`}`;
}

/** In UTC, which a paper says itself. */
function instant(iso: string): string {
  return `${dayText(iso.slice(0, 10))} ${iso.slice(11, 16)} UTC`;
}
