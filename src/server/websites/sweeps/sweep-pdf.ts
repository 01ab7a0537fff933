import type { Column, Content } from 'pdfmake/interfaces.js';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import { regionName } from '../../../core/websites/notice/region.ts';
import { lifetimeWords } from '../../../core/websites/trackers/tracker.ts';
import type { SweepReport } from '../../../core/websites/sweeps/sweep-report.ts';
import { VISITOR_ACTS, VISITOR_WORDS, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import {
  code,
  DIM,
  figures,
  heading,
  INK,
  makeDocument,
  MARK,
  paragraph,
  picture,
  printable,
  table,
  title,
} from '../../files/document.ts';
import { documentProof, instant } from '../../files/document-proof.ts';
import type { SealedReport } from './sweep-end.ts';

/** A report of more is cut short, and says so; the JSON has them all. */
const MOST_ROWS = 1500;

type Tracker = SweepReport['trackers'][number];

/** The report of a sweep for people: what was found, with pictures of each visitor's start page, and the proof. */
export function sweepPdf(sealed: SealedReport, pictures: ReadonlyMap<Visitor, Buffer>): Promise<Buffer> {
  const { report } = sealed;
  return makeDocument({
    title: `Sweep of ${printable(report.site)}`,
    foot: `${printable(report.site)}, ${instant(report.startedAt)} UTC`,
    content: [
      ...summary(report),
      ...visitors(report, pictures),
      ...leaks(report),
      ...trackers(report),
      ...notes(report),
      ...documentProof('sweep', sealed),
    ],
  });
}

function summary(r: SweepReport): Content[] {
  const took = Math.max(1, Math.round((Date.parse(r.finishedAt) - Date.parse(r.startedAt)) / 60_000));
  const { counts } = r;
  return [
    title(`Sweep of ${r.site}`),
    paragraph(
      `${instant(r.startedAt)} UTC, ${took} ${took === 1 ? 'minute' : 'minutes'}, ${r.state}. Swept as from ${regionName(r.region)}: ${r.regime} (${r.law}).`,
    ),
    figures([
      { value: counts.pages, words: 'pages' },
      { value: counts.trackers, words: 'trackers' },
      { value: counts.leaks, words: counts.leaks === 1 ? 'leak' : 'leaks', mark: counts.leaks > 0 },
      // Reports of before did not tell them apart.
      { value: counts.presumed ?? 0, words: 'leaks unless essential' },
      { value: counts.unsorted, words: 'not sorted' },
      { value: counts.attempts, words: 'attempts refused' },
    ]),
    paragraph(
      counts.leaks > 0
        ? `${counts.leaks === 1 ? '1 tracker runs' : `${counts.leaks} trackers run`} without permission.`
        : counts.unsorted > 0
          ? 'No tracker with a purpose runs without permission; some have no purpose yet.'
          : 'Nothing was seen to run without permission.',
    ),
  ];
}

const [PICTURE_WIDTH, PICTURE_HEIGHT] = [230, 145];

function visitors(r: SweepReport, pictures: ReadonlyMap<Visitor, Buffer>): Content[] {
  const shown = r.visitors.map((v): Column => {
    const acted = v.tried
      ? `${VISITOR_ACTS[v.visitor]}${v.operated ? `: ${v.operated}` : ''}, ${v.pages.length} pages`
      : 'could not be tried: no notice was found to answer';
    return {
      stack: [
        { text: VISITOR_WORDS[v.visitor], bold: true },
        paragraph(acted.slice(0, 140), 8, DIM),
        picture(pictures.get(v.visitor), PICTURE_WIDTH, PICTURE_HEIGHT),
      ],
      width: PICTURE_WIDTH,
    };
  });
  const pairs = Array.from({ length: Math.ceil(shown.length / 2) }, (_, i) => shown.slice(i * 2, i * 2 + 2));
  return [
    heading('As which visitors'),
    ...pairs.map((columns): Content => ({
      columns,
      columnGap: 35,
      margin: [0, 0, 0, 12],
      unbreakable: true,
    })),
  ];
}

function leaks(r: SweepReport): Content[] {
  const found = r.trackers.filter((t) => t.leaks.length > 0);
  if (found.length === 0) return [];
  return [
    heading('Without permission'),
    ...found.slice(0, MOST_ROWS).map((t): Content => {
      const law = t.verdicts[t.leaks[0] as Visitor]?.law ?? '';
      return {
        stack: [
          {
            text: [
              { text: printable(t.name, 90), font: 'Mono', color: MARK },
              `  ${t.kind} of ${printable(t.host, 80)}, ${purposeName(r.purposes, t.purpose)}`,
            ],
          },
          ...t.leaks.map((v) => paragraph(`${VISITOR_WORDS[v]}: ${t.verdicts[v]?.why ?? ''}`, 9)),
          paragraph(
            `Law: ${law}. On ${t.pages} ${t.pages === 1 ? 'page' : 'pages'}, first ${t.sightings[0]?.firstPage ?? ''}`,
            8,
            DIM,
          ),
          ...(t.cause.length > 0
            ? [paragraph(`Who did it: ${t.cause.map(causeWords).join('  >  ')}`, 8, DIM)]
            : []),
        ],
        margin: [0, 0, 0, 6],
        unbreakable: true,
      };
    }),
  ];
}

function trackers(r: SweepReport): Content[] {
  const tried = r.visitors.filter((v) => v.tried).map((v) => v.visitor);
  const rows = r.trackers.slice(0, MOST_ROWS).map((t): readonly Content[] => {
    const color = t.leaks.length > 0 ? MARK : INK;
    const purpose = `${purposeName(r.purposes, t.purpose)}${t.decided || t.purpose === null ? '' : ' (proposed)'}`;
    const seen = tried
      .map((v) => seenWords(t, v))
      .filter(Boolean)
      .join(', ');
    return [
      { stack: [code(t.name.slice(0, 80), 7, color), paragraph(`seen: ${seen}`, 7, DIM)] },
      paragraph(t.kind, 8, color),
      paragraph(t.host.slice(0, 60), 8, color),
      paragraph(purpose, 8, color),
      paragraph(lifetimeWords(t, t.lifetime).replace('–', ''), 8, color),
    ];
  });
  return [
    heading('All trackers'),
    table([160, 66, 104, 100, 36], ['Name', 'Kind', 'Reaches', 'Purpose', 'Lives'], rows),
    ...(r.trackers.length > MOST_ROWS
      ? [paragraph(`${r.trackers.length - MOST_ROWS} more are in the JSON export.`)]
      : []),
  ];
}

function seenWords(t: Tracker, visitor: Visitor): string {
  const verdict = t.verdicts[visitor]?.verdict;
  if (!verdict || verdict === 'not seen') return '';
  return `${VISITOR_WORDS[visitor].toLowerCase()}${verdict === 'allowed' ? '' : ` (${verdict})`}`;
}

function notes(r: SweepReport): Content[] {
  if (r.notes.length === 0) return [];
  return [
    heading('Out of the ordinary'),
    ...r.notes.map((n) => paragraph(`${n.visitor ? `${VISITOR_WORDS[n.visitor]}: ` : ''}${n.words}`, 9)),
  ];
}

function causeWords({ url, line }: Tracker['cause'][number]): string {
  return printable(url.replace(/^https?:\/\//, '').replace(/\?.*/, ''), 90) + (line ? ` line ${line}` : '');
}
