import type { Content } from 'pdfmake/interfaces.js';
import { BASES, SPECIAL_BASES } from '../../../core/holdings/records/activity.ts';
import { recipientText, type RecordNames } from '../../../core/holdings/records/activity-table.ts';
import { dayText } from '../../../core/text/day.ts';
import {
  DIM,
  figures,
  heading,
  makeDocument,
  MARK,
  paragraph,
  printable,
  table,
  title,
} from '../../files/document.ts';
import type { StoredActivity } from './activities.ts';
import type { CheckedContradiction } from './record-check.ts';

/** The record of processing as Art. 30 asks for it, with what contradicts it and why that was accepted. */
export function recordsPdf(
  activities: readonly StoredActivity[],
  found: readonly CheckedContradiction[],
  names: RecordNames,
  now: Date,
): Promise<Buffer> {
  const open = found.filter((c) => !c.accepted);
  const day = dayText(now.toISOString().slice(0, 10));
  return makeDocument({
    title: 'Records of processing',
    foot: `Records of processing, ${day}`,
    content: [
      title('Records of processing'),
      paragraph(`As of ${day}, by Art. 30 of the GDPR: (1) as controller, (2) as processor.`),
      figures([
        { value: activities.length, words: activities.length === 1 ? 'activity' : 'activities' },
        { value: open.length, words: 'contradictions with the estate or the law', mark: open.length > 0 },
      ]),
      ...activities.flatMap((a) =>
        recordOf(
          a,
          found.filter((c) => c.activity === a.id),
          names,
        ),
      ),
      ...contradictionsOf(
        'What systems hold that no record names',
        found.filter((c) => c.activity === undefined),
      ),
    ],
  });
}

function recordOf(
  { content: c }: StoredActivity,
  found: readonly CheckedContradiction[],
  names: RecordNames,
): Content[] {
  const named = (ids: readonly string[], of: ReadonlyMap<string, string>) =>
    ids.map((id) => of.get(id) ?? id).join(', ');
  const lines: readonly (readonly [string, string])[] = [
    ['Role', c.role === 'controller' ? 'Controller, Art. 30(1)' : 'Processor, Art. 30(2)'],
    ['Purpose', c.purpose],
    ['Legal basis', BASES[c.basis]],
    ...(c.special === 'none' ? [] : [['Special categories', SPECIAL_BASES[c.special]] as const]),
    ...(c.offences === '' ? [] : [['Offences', c.offences] as const]),
    ['Whose data', c.people.join(', ')],
    ['Kinds of data', named(c.data, names.detectors)],
    ['Systems', named(c.systems, names.systems)],
    ['Recipients', c.recipients.map(recipientText).join('; ') || 'nobody'],
    ['Kept for', c.retention],
    ['Measures, Art. 32', c.measures],
    ['Owner', c.owner],
    ['Next review', c.review === '' ? '' : dayText(c.review)],
  ];
  return [
    heading(printable(c.name)),
    table(
      [110, 380],
      ['', ''],
      lines.map(([what, words]) => [
        paragraph(what, 9, DIM),
        words === '' ? paragraph('not said', 9, MARK) : paragraph(printable(words, 4000), 9),
      ]),
    ),
    ...contradictionsOf('', found),
  ];
}

function contradictionsOf(head: string, found: readonly CheckedContradiction[]): Content[] {
  if (found.length === 0) return [];
  return [
    ...(head === '' ? [] : [heading(head)]),
    ...found.map((c): Content => ({
      stack: [
        paragraph(printable(c.words, 600), 9, c.accepted ? DIM : MARK),
        paragraph(
          printable(
            c.accepted
              ? `Accepted by ${c.accepted.by}, ${dayText(c.accepted.at.slice(0, 10))}: ${c.accepted.reason}`
              : c.because,
            800,
          ),
          8,
          DIM,
        ),
      ],
      margin: [0, 2, 0, 4],
      unbreakable: true,
    })),
  ];
}
