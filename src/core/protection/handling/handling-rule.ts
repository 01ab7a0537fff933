import { z } from 'zod';
import { ADD_ADDRESS, audienceWords } from '../../accounts/staff/audience.ts';
import type { LensVocabulary } from '../../lens/fact.ts';
import { lensWords } from '../../lens/lens-words.ts';
import { Lens } from '../../lens/lens.ts';
import { BECAUSE_LINE } from '../../rules/because-line.ts';
import type { Json, Vocabulary } from '../../rules/change.ts';
import {
  sentenceVocabulary,
  slotsOf,
  type Part,
  type Sentence,
  type SentenceLine,
  type SlotOption,
} from '../../rules/sentence.ts';
import { CHANNEL_WORDS, CHANNELS, LEADS_TO, type Channel, type GroupKind } from './channel.ts';

/** What a rule does about an act, from the least. */
export const STEPS = ['record', 'ask', 'stop'] as const;
export type Step = (typeof STEPS)[number];
export const STEP_WORDS: Readonly<Record<Step, string>> = {
  record: 'record it',
  ask: 'ask for a reason',
  stop: 'stop it',
};

export const TOWARDS = ['anywhere', 'anywhere outside', 'among', 'not among'] as const;
const TOWARDS_WORDS: Readonly<Record<(typeof TOWARDS)[number], string>> = {
  anywhere: 'anywhere',
  'anywhere outside': 'anywhere that is not ours',
  among: 'anything among',
  'not among': 'anything not among',
};

const Marks = z.array(z.string().min(1).max(320)).max(200, 'At most 200');
const Ids = z.array(z.string().min(1).max(80)).max(200, 'At most 200');

/** What is kept of the data itself; nothing where neither is wanted. */
export const Keeping = z.strictObject({
  /** A copy, sealed on the device. */
  copy: z.boolean(),
  /** A file that is stopped is moved away, and a note left in its place. */
  quarantine: z.boolean(),
  /** Addresses of accounts: of those who may open what is kept, these alone; none for all of them. */
  openers: z.array(z.email('An e-mail address')).max(50, 'At most 50 people'),
  days: z.int().min(1, 'At least 1 day').max(3650, 'At most 3,650 days'),
});
export type Keeping = z.infer<typeof Keeping>;
const NOTHING_KEPT: Keeping = { copy: false, quarantine: false, openers: [], days: 30 };

/** What a rule of before did not say: it kept and raised nothing, and began with everybody at once. */
export const OF_BEFORE = { first: [] as string[], keeps: NOTHING_KEPT, alert: null };

/** When somebody puts data in motion, what then. */
export const HandlingRuleContent = z.strictObject({
  name: z.string().trim().min(1, 'Give it a name.').max(120),
  /** An audience of people and groups; none for anyone. */
  who: Marks,
  /** Those that are left alone. */
  but: Marks,
  /** Of those it is for, the ones it begins with; none for all of them. For the others it only counts. */
  first: Marks.default([]),
  channels: z
    .partialRecord(z.enum(CHANNELS), z.enum(STEPS))
    .refine((c) => Object.keys(c).length > 0, 'Choose at least one way on which it holds.'),
  /** On the data. */
  lens: Lens,
  towards: z
    .strictObject({ is: z.enum(TOWARDS), groups: Ids })
    .refine((t) => t.groups.length > 0 || (t.is !== 'among' && t.is !== 'not among'), {
      message: 'Choose a group.',
      path: ['groups'],
    }),
  /** Named groups of networks; none for any network. */
  networks: Ids,
  /** Groups of devices; none for any device. */
  devices: Ids,
  /** What the person reads, by language. */
  keeps: Keeping.default(NOTHING_KEPT),
  /** How grave what it raises is wherever it holds; `null` for nothing. */
  alert: z.enum(['low', 'medium', 'high']).nullable().default(null),
  says: z.record(z.string().regex(/^[a-z]{2}(-[A-Z]{2})?$/), z.string().trim().max(400)),
  because: z.string().trim().max(400),
});
export type HandlingRuleContent = z.infer<typeof HandlingRuleContent>;

/** As it may be saved while it is made. */
export const HandlingRuleDraft = HandlingRuleContent.extend({
  channels: z.partialRecord(z.enum(CHANNELS), z.enum(STEPS)),
  towards: z.strictObject({ is: z.enum(TOWARDS), groups: Ids }),
});

/** What is begun with: counted, and nobody is asked. */
export function firstHandlingRule(
  name: string,
  channels: HandlingRuleContent['channels'] = {},
): HandlingRuleContent {
  return {
    ...{
      name,
      who: [],
      but: [],
      channels,
      lens: { all: [] },
      towards: { is: 'anywhere outside', groups: [] },
    },
    ...OF_BEFORE,
    ...{ networks: [], devices: [], says: { en: 'This holds personal data. Do you need it there?' } },
    because: '',
  };
}

/** What can be named in handling rules. */
export interface HandlingNames {
  readonly items: LensVocabulary;
  /** Groups of people, by their marks. */
  readonly people: readonly SlotOption[];
  readonly deviceGroups: readonly SlotOption[];
  readonly named: readonly (SlotOption & { readonly kind: GroupKind })[];
  /** Accounts that may open what rules keep, by their addresses. */
  readonly accounts: readonly SlotOption[];
  /** By code. */
  readonly languages: Readonly<Record<string, string>>;
}

const wordsOf = (options: readonly SlotOption[], id: unknown) =>
  options.find((o) => o.value === id)?.words ?? `“${String(id)}”, which is gone`;

function several(options: readonly SlotOption[], none: string) {
  return (value: Json) =>
    Array.isArray(value) && value.length > 0 ? value.map((id) => wordsOf(options, id)).join(', ') : none;
}

export function handlingRuleSentence(content: HandlingRuleContent, names: HandlingNames): Sentence {
  const taken = CHANNELS.filter((c) => content.channels[c] !== undefined);
  const many = (path: string, label: string, options: readonly SlotOption[], none: string): Part => ({
    ...{ path: [path], label, say: several(options, none), editor: { kind: 'many', options } },
  });
  const people = (path: string, label: string, none: string): Part => ({
    ...{ path: [path], label },
    say: (marks) =>
      Array.isArray(marks) && marks.length > 0 ? marks.map((m) => audienceWords(String(m))).join(', ') : none,
    editor: { kind: 'many', options: names.people, add: ADD_ADDRESS },
  });
  const kinds = new Set(taken.map((c) => LEADS_TO[c]));
  const groups = names.named.filter((g) => taken.length === 0 || kinds.has(g.kind));
  return [
    {
      label: 'When',
      parts: [
        people('who', 'Who', 'anyone'),
        ' but ',
        people('but', 'Left alone', 'nobody'),
        '; at first ',
        people('first', 'Begins with', 'all of them'),
        ...(content.first.length > 0 ? [' alone; for the others it only counts'] : []),
      ],
    },
    ...channelLines(taken),
    {
      label: 'What has',
      parts: [
        {
          path: ['lens'],
          label: 'What it has',
          say: (lens) => lensSaid(lens, names.items),
          editor: { kind: 'lens' },
        },
      ],
    },
    {
      label: 'Towards',
      parts: [
        {
          path: ['towards', 'is'],
          label: 'Towards',
          say: (is) => TOWARDS_WORDS[is as keyof typeof TOWARDS_WORDS] ?? String(is),
          editor: {
            kind: 'choice',
            options: TOWARDS.map((value) => ({ value, words: TOWARDS_WORDS[value] })),
          },
        },
        ...(content.towards.is === 'among' || content.towards.is === 'not among'
          ? [
              ' ',
              {
                path: ['towards', 'groups'],
                label: 'Groups it goes to',
                say: several(groups, 'no group yet'),
                editor: { kind: 'many' as const, options: groups },
              },
            ]
          : []),
        '; on ',
        many(
          'networks',
          'Networks',
          names.named.filter((g) => g.kind === 'networks'),
          'any network',
        ),
        ', from ',
        many('devices', 'Devices', names.deviceGroups, 'any device'),
      ],
    },
    ...saysLines(content, names),
    ...keepsLines(content, names),
    BECAUSE_LINE,
  ];
}

function channelLines(taken: readonly Channel[]): readonly SentenceLine[] {
  return [
    {
      label: 'Does',
      parts: [
        {
          path: ['channels'],
          label: 'Ways',
          say: () => taken.map((c) => CHANNEL_WORDS[c]).join(', or ') || 'no way chosen yet',
          editor: {
            kind: 'many',
            options: CHANNELS.map((value) => ({ value, words: CHANNEL_WORDS[value] })),
          },
          turn: {
            read: (c) => Object.keys((c as unknown as HandlingRuleContent).channels),
            write: (c, value) => {
              const before = (c as unknown as HandlingRuleContent).channels;
              const ways = (Array.isArray(value) ? value : []) as readonly Channel[];
              return {
                ...(c as Record<string, Json>),
                channels: Object.fromEntries(ways.map((w) => [w, before[w] ?? 'ask'])),
              };
            },
          },
        },
      ],
    },
    ...taken.map((channel): SentenceLine => ({
      label: '',
      parts: [
        `where somebody ${CHANNEL_WORDS[channel]}, `,
        {
          path: ['channels', channel],
          label: `What then: ${CHANNEL_WORDS[channel]}`,
          say: (step) => STEP_WORDS[step as Step] ?? String(step),
          editor: {
            kind: 'choice',
            options: STEPS.map((value) => ({ value, words: STEP_WORDS[value] })),
          },
        },
      ],
    })),
  ];
}

function saysLines({ says }: HandlingRuleContent, { languages }: HandlingNames): readonly SentenceLine[] {
  return Object.keys(languages).map((code): SentenceLine => ({
    label: code === 'en' ? 'Says' : '',
    parts: [
      {
        path: ['says', code],
        label: `What the person reads in ${languages[code] ?? code}`,
        say: (text) => (text ? `“${String(text)}”` : `nothing in ${languages[code] ?? code}`),
        editor: { kind: 'text', most: 400, long: true },
        turn: {
          read: (c) => (c as unknown as HandlingRuleContent).says[code] ?? '',
          write: (c, value) => {
            const { [code]: _before, ...others } = (c as unknown as HandlingRuleContent).says;
            const next = value === '' ? others : { ...others, [code]: value };
            return { ...(c as Record<string, Json>), says: next as Json };
          },
        },
      },
      ...(says[code] ? [` in ${languages[code] ?? code}`] : []),
    ],
  }));
}

const KEEPS = {
  nothing: 'nothing of the data itself',
  copy: 'a sealed copy',
  quarantine: 'the file that is stopped, and leave a note in its place',
  both: 'a sealed copy; and move the file that is stopped, with a note in its place',
} as const;
type Keeps = keyof typeof KEEPS;
const keepsOf = ({ copy, quarantine }: Keeping): Keeps =>
  copy ? (quarantine ? 'both' : 'copy') : quarantine ? 'quarantine' : 'nothing';

const RAISES = {
  none: 'no alert',
  low: 'an alert of low severity',
  medium: 'an alert of medium severity',
  high: 'an alert of high severity',
} as const;

function keepsLines({ keeps }: HandlingRuleContent, { accounts }: HandlingNames): readonly SentenceLine[] {
  const nothing = keepsOf(keeps) === 'nothing';
  return [
    {
      label: 'Keeps',
      parts: [
        {
          path: ['keeps'],
          label: 'What it keeps',
          say: (value) => KEEPS[value as Keeps] ?? String(value),
          editor: {
            kind: 'choice',
            options: Object.entries(KEEPS).map(([value, words]) => ({ value, words })),
          },
          turn: {
            read: (c) => keepsOf((c as unknown as HandlingRuleContent).keeps),
            write: (c, value) => {
              const before = (c as unknown as HandlingRuleContent).keeps;
              const copy = value === 'copy' || value === 'both';
              const quarantine = value === 'quarantine' || value === 'both';
              return { ...(c as Record<string, Json>), keeps: { ...before, copy, quarantine } };
            },
          },
        },
        ...(nothing
          ? []
          : [
              ' for ',
              {
                path: ['keeps', 'days'],
                label: 'How long it is kept',
                say: (n: Json) => `${String(n)} days`,
                editor: { kind: 'number' as const, unit: 'days', least: 1, most: 3650 },
              },
              ', opened by ',
              {
                path: ['keeps', 'openers'],
                label: 'Who may open it',
                say: several(accounts, 'all who may open what is kept'),
                editor: { kind: 'many' as const, options: accounts },
              },
            ]),
      ],
    },
    {
      label: 'Raises',
      parts: [
        {
          path: ['alert'],
          label: 'What it raises',
          say: (value) => RAISES[(value ?? 'none') as keyof typeof RAISES] ?? String(value),
          editor: {
            kind: 'choice',
            options: Object.entries(RAISES).map(([value, words]) => ({ value, words })),
          },
          turn: {
            read: (c) => (c as unknown as HandlingRuleContent).alert ?? 'none',
            write: (c, value) => ({
              ...(c as Record<string, Json>),
              alert: value === 'none' ? null : value,
            }),
          },
        },
      ],
    },
  ];
}

function lensSaid(value: Json, items: LensVocabulary): string {
  const lens = Lens.safeParse(value);
  return lens.success ? lensWords(lens.data, items) || 'anything in it' : String(value);
}

export function handlingVocabulary(content: HandlingRuleContent, names: HandlingNames): Vocabulary {
  return sentenceVocabulary(slotsOf(handlingRuleSentence(content, names)), {
    path: ([first]) => (first === 'name' ? 'The name' : undefined),
  });
}
