import { z } from 'zod';
import { lifetimeWords, isKept, type TrackerKind } from '../trackers/tracker.ts';
import { PHRASES, type StatementPhrases } from './statement-phrases.ts';

const Answer = (most: number) => z.string().trim().max(most, `At most ${most} characters`);

/** What no sweep and no record can know: asked once, in words of the organisation. */
export const Interview = z.strictObject({
  controller: Answer(200),
  address: Answer(300),
  contact: Answer(200),
  officer: Answer(200),
  authority: Answer(200),
  /** Whether somebody is decided about by machine alone (GDPR, art. 22). */
  automated: z.enum(['', 'no', 'yes']),
  /** What it decides and how, where it does. */
  logic: Answer(1000),
  mustGive: Answer(500),
});
export type Interview = z.infer<typeof Interview>;

export const NO_ANSWERS: Interview = {
  ...{ controller: '', address: '', contact: '', officer: '', authority: '', automated: '', logic: '' },
  mustGive: '',
};

/** What a site stores and sends, by purpose. */
export interface InventoryLine {
  readonly purpose: string;
  readonly kind: TrackerKind;
  readonly name: string;
  readonly host: string;
  /** Seconds; see `lifetimeWords`. */
  readonly lifetime: number | null;
  readonly text: string;
}

/** A record of processing, as far as a statement tells of it. */
export interface ToldActivity {
  readonly name: string;
  readonly purpose: string;
  /** With its article. */
  readonly basis: string;
  readonly byConsent: boolean;
  readonly byInterest: boolean;
  readonly data: readonly string[];
  readonly recipients: readonly {
    readonly name: string;
    readonly country: string;
    readonly safeguard: string;
  }[];
  readonly retention: string;
}

export interface StatementGround {
  readonly site: string;
  readonly language: string;
  readonly interview: Interview;
  /** In the order of the notice, the essential first; names in the language. */
  readonly purposes: readonly { readonly code: string; readonly name: string; readonly text: string }[];
  readonly inventory: readonly InventoryLine[];
  /** Trackers that nobody has sorted. */
  readonly unsorted: number;
  readonly activities: readonly ToldActivity[];
  /** ISO 8601 day of the sweep; empty where nobody has swept. */
  readonly swept: string;
  /** ISO 8601 day. */
  readonly today: string;
}

export type Block =
  | { readonly is: 'heading'; readonly level: 1 | 2 | 3; readonly text: string }
  | { readonly is: 'text'; readonly text: string }
  | { readonly is: 'list'; readonly items: readonly string[] }
  | { readonly is: 'table'; readonly head: readonly string[]; readonly rows: readonly (readonly string[])[] };

/** The statement of a site: what is stored and sent, who answers for it, and what is done with data and why. */
export function statementBlocks(g: StatementGround): readonly Block[] {
  const t = PHRASES[g.language] ?? (PHRASES['en'] as StatementPhrases);
  const { interview: i } = g;
  const lines = (...all: readonly (readonly [string, string])[]): Block => ({
    is: 'list',
    items: all.filter(([, text]) => text !== '').map(([name, text]) => `${name}: ${text}`),
  });
  const decided = i.automated === 'yes' ? [{ is: 'text', text: i.logic } as const] : [];
  return [
    { is: 'heading', level: 1, text: t.title.replace('{site}', g.site) },
    { is: 'text', text: t.dated.replace('{day}', g.today) },
    { is: 'heading', level: 2, text: t.who },
    lines(
      [t.controller, i.controller],
      [t.address, i.address],
      [t.contact, i.contact],
      [t.officer, i.officer],
    ),
    { is: 'heading', level: 2, text: t.stored },
    { is: 'text', text: g.swept ? t.found.replace('{day}', g.swept) : '' },
    ...g.purposes.flatMap((p) => purposeBlocks(p, g.inventory, t)),
    { is: 'text', text: t.change },
    ...(g.activities.length > 0 ? [{ is: 'heading', level: 2, text: t.why } as const] : []),
    ...g.activities.flatMap((a) => activityBlocks(a, t)),
    { is: 'heading', level: 2, text: t.rights },
    { is: 'list', items: t.rightsList },
    ...(i.mustGive ? [{ is: 'text', text: i.mustGive } as const] : []),
    ...decided,
    ...(i.authority ? [{ is: 'text', text: t.complain.replace('{authority}', i.authority) } as const] : []),
  ].filter((b) => b.is !== 'text' || b.text !== '') as Block[];
}

/** What a site stores and sends, by itself: for a table that stays current in a page. */
export function inventoryBlocks(
  purposes: StatementGround['purposes'],
  inventory: readonly InventoryLine[],
  language: string,
  swept: string,
): readonly Block[] {
  const t = PHRASES[language] ?? (PHRASES['en'] as StatementPhrases);
  return [
    { is: 'text', text: swept ? t.found.replace('{day}', swept) : '' },
    ...purposes.flatMap((p) => purposeBlocks(p, inventory, t)),
  ];
}

function purposeBlocks(
  { code, name, text }: StatementGround['purposes'][number],
  inventory: readonly InventoryLine[],
  t: StatementPhrases,
): Block[] {
  const theirs = inventory.filter((l) => l.purpose === code);
  if (theirs.length === 0) return [];
  return [
    { is: 'heading', level: 3, text: name },
    { is: 'text', text },
    {
      is: 'table',
      head: [t.name, t.from, t.lasts, t.does],
      rows: theirs.map((l) => [l.name, l.host, isKept(l.kind) ? lifetimeWords(l, l.lifetime) : '–', l.text]),
    },
  ];
}

function activityBlocks(a: ToldActivity, t: StatementPhrases): Block[] {
  const to = a.recipients.map((r) =>
    [r.name, r.country, r.country && r.safeguard].filter(Boolean).join(', '),
  );
  const all: (readonly [string, string])[] = [
    [t.basis, a.basis],
    [t.data, a.data.join(', ')],
    [t.to, to.join('; ')],
    [t.kept, a.retention],
  ];
  return [
    { is: 'heading', level: 3, text: a.name },
    { is: 'text', text: a.purpose },
    { is: 'list', items: all.filter(([, x]) => x !== '').map(([n, x]) => `${n}: ${x}`) },
  ];
}

/** Something that the law asks a statement to say, and that it cannot say yet. */
export interface Missing {
  readonly what: string;
  readonly law: string;
  readonly fix: string;
}

const MOST_DAYS = 100;

/** What the law asks for and is missing, with its article. */
export function missingIn(g: StatementGround): readonly Missing[] {
  const { interview: i } = g;
  const asked = (is: boolean, what: string, law: string, fix: string): Missing[] =>
    is ? [] : [{ what, law, fix }];
  const answer = 'Answer it in the interview.';
  const sweptDays = g.swept ? (Date.parse(g.today) - Date.parse(g.swept)) / 86_400_000 : Infinity;
  return [
    ...asked(
      i.controller !== '' && i.contact !== '',
      'Who answers for it, and how to reach them',
      'GDPR, art. 13(1)(a)',
      answer,
    ),
    ...asked(
      i.officer !== '',
      'The data protection officer, or that there is none',
      'GDPR, art. 13(1)(b)',
      answer,
    ),
    ...asked(i.authority !== '', 'The authority to complain to', 'GDPR, art. 13(2)(d)', answer),
    ...asked(
      i.mustGive !== '',
      'Whether data has to be given, and what follows if not',
      'GDPR, art. 13(2)(e)',
      answer,
    ),
    ...asked(
      i.automated !== '' && (i.automated === 'no' || i.logic !== ''),
      'Whether a machine decides alone, and how',
      'GDPR, art. 13(2)(f) and 22',
      answer,
    ),
    ...asked(
      g.activities.length > 0,
      'What is done with data, and on which basis',
      'GDPR, art. 13(1)(c)',
      'Choose the records of processing that the site is part of.',
    ),
    ...asked(
      sweptDays <= MOST_DAYS,
      'What the site stores, as it is now',
      'Directive 2002/58/EC, art. 5(3)',
      'Sweep the site.',
    ),
    ...asked(
      g.unsorted === 0,
      `What ${g.unsorted} trackers are for`,
      'Directive 2002/58/EC, art. 5(3); CJEU C-673/17, 81',
      'Sort them.',
    ),
    ...g.activities.flatMap((a) => [
      ...asked(a.purpose !== '', `What for: ${a.name}`, 'GDPR, art. 13(1)(c)', 'Say it in the record.'),
      ...asked(a.retention !== '', `For how long: ${a.name}`, 'GDPR, art. 13(2)(a)', 'Say it in the record.'),
      ...asked(
        !a.byInterest || a.purpose !== '',
        `Which interest: ${a.name}`,
        'GDPR, art. 13(1)(d)',
        'Say it in the record’s purpose.',
      ),
      ...asked(
        a.recipients.every((r) => r.country === '' || r.safeguard !== ''),
        `What makes its transfer lawful: ${a.name}`,
        'GDPR, art. 13(1)(f)',
        'Say the safeguard in the record.',
      ),
    ]),
    ...asked(
      g.language in PHRASES,
      `The words of a statement in ${g.language}`,
      'GDPR, art. 12(1)',
      'They ship in English, Danish, Swedish, Norwegian and German; the rest of it stands in the notice’s own texts.',
    ),
  ];
}
