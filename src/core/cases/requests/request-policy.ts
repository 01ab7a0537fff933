import { z } from 'zod';
import type { Vocabulary } from '../../rules/change.ts';
import { sentenceVocabulary, slotsOf, type Sentence } from '../../rules/sentence.ts';
import { isZone } from '../../retention/offers.ts';

const Days = (most: number) => z.int().min(1, 'At least 1 day.').max(most, `At most ${most} days.`);

/** How requests are handled, whatever they ask; there is one. */
export const RequestPolicy = z.strictObject({
  /** As letters are signed. */
  organisation: z.string().trim().min(2, 'How letters are signed.').max(120),
  /** IANA; where days begin and end. */
  zone: z.string().max(60).refine(isZone, 'A time zone such as Europe/Copenhagen.'),
  /** ISO 3166-1; whose holidays are days off. */
  country: z.string().regex(/^[A-Z]{2}$/, 'A country such as DK.'),
  /** Days that owners have for a task, and after which their superior hears of it. */
  taskDays: Days(60),
  nudgeDays: Days(60),
  /** Days after closing that what was gathered is kept. */
  keepDays: Days(1000),
  /** Days that a person can fetch their package. */
  fetchDays: Days(90),
  /** An account that handles what nobody was chosen for; '' for none. */
  handler: z.string().regex(/^\d{0,12}$/),
  /** The source that is the mailbox people write to about their data, and the folder in it; '' for none. */
  mailbox: z.string().regex(/^\d{0,12}$/),
  mailboxPlace: z.string().trim().max(400),
});
export type RequestPolicy = z.infer<typeof RequestPolicy>;

type Options = readonly { readonly value: string; readonly words: string }[];

export function policySentence(handlers: Options, mailboxes: Options = []): Sentence {
  const days = (path: string, label: string, most: number) => ({
    path: [path],
    label,
    say: (n: unknown) => `${String(n)} days`,
    editor: { kind: 'number' as const, unit: 'days', least: 1, most },
  });
  return [
    {
      label: 'Letters',
      parts: [
        'are signed ',
        {
          path: ['organisation'],
          label: 'Signed',
          say: String,
          editor: { kind: 'text', most: 120, hint: 'Harbour Ferries' },
        },
        '; what comes in is handled by ',
        {
          path: ['handler'],
          label: 'Handled by',
          say: (v) => handlers.find((h) => h.value === String(v))?.words ?? 'nobody yet',
          editor: { kind: 'choice', options: [{ value: '', words: 'nobody yet' }, ...handlers] },
        },
      ],
    },
    {
      label: 'Mail',
      parts: [
        'that may ask something comes to ',
        {
          path: ['mailbox'],
          label: 'Mailbox',
          say: (v) => mailboxes.find((m) => m.value === String(v))?.words ?? 'no mailbox yet',
          editor: { kind: 'choice', options: [{ value: '', words: 'no mailbox yet' }, ...mailboxes] },
        },
        ', there in ',
        {
          path: ['mailboxPlace'],
          label: 'Folder',
          say: (v) => (v === '' ? 'the first folder' : String(v)),
          editor: { kind: 'text', most: 400, hint: 'INBOX' },
        },
      ],
    },
    {
      label: 'Days',
      parts: [
        'are those in ',
        {
          path: ['zone'],
          label: 'Time zone',
          say: String,
          editor: {
            ...{ kind: 'text', most: 60, hint: 'Europe/Copenhagen' },
            check: (t) => (isZone(t) ? '' : 'A time zone such as Europe/Copenhagen.'),
          },
        },
        ', with the holidays of ',
        {
          path: ['country'],
          label: 'Country',
          say: String,
          editor: {
            ...{ kind: 'text', most: 2, hint: 'DK' },
            check: (t) => (/^[A-Z]{2}$/.test(t) ? '' : 'A country such as DK.'),
          },
        },
      ],
    },
    {
      label: 'Owners',
      parts: [
        'have ',
        days('taskDays', 'For a task', 60),
        ' for a task; those above them hear of it ',
        days('nudgeDays', 'Told above after', 60),
        ' later',
      ],
    },
    {
      label: 'Kept',
      parts: [
        'is what was gathered for ',
        days('keepDays', 'Kept for', 1000),
        ' after the end; a package can be fetched for ',
        days('fetchDays', 'Fetched for', 90),
      ],
    },
  ];
}

export function requestPolicyVocabulary(): Vocabulary {
  return sentenceVocabulary(slotsOf(policySentence([])));
}
