import type { Content } from 'pdfmake/interfaces.js';
import { regionName } from '../../../core/websites/notice/region.ts';
import { timeLine } from '../../../core/websites/visits/time-line.ts';
import { ANSWER_WORDS, ANSWERS, ranTooEarly, type VisitEvent } from '../../../core/websites/visits/visit.ts';
import { RefusedError } from '../../../core/refusal.ts';
import {
  DIM,
  figures,
  heading,
  INK,
  makeDocument,
  MARK,
  paragraph,
  printable,
  table,
  title,
} from '../../files/document.ts';
import { documentProof, instant } from '../../files/document-proof.ts';
import type { KeptVisit } from './visit-store.ts';

/** A visit for people: the time line of its visitors, what ran when it should not, and the proof. */
export function visitPdf({ course, digest, matches, proof, ledgerId }: KeptVisit): Promise<Buffer> {
  if (!course)
    throw new RefusedError('This visit is not over yet, or failed: there is nothing to report.', [], 409);
  const rows = timeLine(course.lanes);
  const early = rows.filter((r) => r.tooEarly);
  const colour = (event: VisitEvent | undefined) => (event && ranTooEarly(event) ? MARK : INK);
  const body = rows.map((row): readonly Content[] => [
    paragraph(`${(row.at / 1000).toFixed(2)} s`, 8, DIM),
    paragraph(row.words.slice(0, 120), 8, row.tooEarly ? MARK : INK),
    ...ANSWERS.map((a) => paragraph(cellWords(row.cells[a]), 8, colour(row.cells[a]))),
  ]);
  return makeDocument({
    title: `Visit of ${printable(course.site)}`,
    foot: `${printable(course.site)}, ${instant(course.begun)} UTC`,
    content: [
      title(`Visit of ${course.site}`),
      paragraph(
        `${instant(course.begun)} UTC, from ${course.wish.pages.join(', ')}, as somebody in ${regionName(course.wish.region)}: ${course.regime} (${course.law}). Notice ${course.notice || 'none'}.`,
      ),
      figures([
        { value: rows.length, words: 'events' },
        { value: early.length, words: 'ran when they should not', mark: early.length > 0 },
      ]),
      ...course.lanes.flatMap((l) => (l.whyNot ? [paragraph(`${ANSWER_WORDS[l.answer]}: ${l.whyNot}`)] : [])),
      ...(early.length > 0 ? [heading('Ran when it should not')] : []),
      ...early.map((row): Content => {
        const event = ANSWERS.map((a) => row.cells[a]).find((e) => e && ranTooEarly(e)) as VisitEvent;
        const cause = event.cause
          .map((c) => printable(c.url, 90) + (c.line ? ` line ${c.line}` : ''))
          .join('  >  ');
        return {
          stack: [
            { text: printable(row.words, 120), color: MARK, bold: true },
            paragraph(event.why, 9),
            ...(cause ? [paragraph(`Who asked for it: ${cause}`, 8, DIM)] : []),
          ],
          margin: [0, 0, 0, 6],
          unbreakable: true,
        };
      }),
      heading('Time line'),
      table([44, 200, 80, 80, 80], ['At', 'What happened', ...ANSWERS.map((a) => ANSWER_WORDS[a])], body),
      ...documentProof('visit', { digest, matches, proof, ledgerId }),
    ],
  });
}

function cellWords(event: VisitEvent | undefined): string {
  if (!event) return '';
  const times = event.times > 1 ? ` ×${event.times}` : '';
  if (event.purposes)
    return Object.entries(event.purposes)
      .map(([p, s]) => `${p}: ${s}`)
      .join(', ');
  return `${event.cell || 'yes'}${event.verdict === 'too early' || event.verdict === 'refused' ? ` (${event.verdict})` : ''}${times}`;
}
