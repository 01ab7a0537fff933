import { RE2JS } from 're2js';
import { z } from 'zod';
import { matchesGlob } from '../../text/glob.ts';
import { PurposeCode } from '../notice/purpose-code.ts';
import { TRACKER_KINDS, type TrackerKey } from './tracker.ts';

export const NAME_MATCHES = ['exact', 'wildcard', 'expression'] as const;

/** An entry of the library: what is known of trackers of a name. */
export const KnownTracker = z
  .strictObject({
    /** By `match`: the name itself, with `*` for anything, or an RE2 expression that must fit the whole name. */
    name: z.string().trim().min(1, 'Give the name').max(300, 'At most 300 characters'),
    match: z.enum(NAME_MATCHES).default('exact'),
    /** `null` for every kind. */
    kind: z.enum(TRACKER_KINDS).nullable().default(null),
    /** The host it reaches, or a domain above it; empty for any. */
    domain: z
      .string()
      .trim()
      .toLowerCase()
      .max(260)
      .regex(/^[a-z0-9.-]*$/, 'A domain such as count.example')
      .default(''),
    provider: z.string().trim().max(120, 'At most 120 characters').default(''),
    purpose: PurposeCode,
    /** In words, as the provider states it. */
    lifetime: z.string().trim().max(60, 'At most 60 characters').default(''),
    /** What it does, by language tag, as a cookie statement tells it. */
    texts: z.record(z.string().regex(/^[a-z]{2,3}(-[A-Za-z0-9]{2,8})*$/), z.string().max(500)).default({}),
  })
  .superRefine((entry, ctx) => {
    if (entry.match !== 'expression') return;
    const why = expressionError(entry.name);
    if (why) ctx.addIssue({ code: 'custom', path: ['name'], message: why });
  });
export type KnownTracker = z.infer<typeof KnownTracker>;

/** Why an expression cannot be used; `undefined` where it can. RE2 runs in time linear in the name, whatever it is. */
export function expressionError(expression: string): string | undefined {
  try {
    RE2JS.compile(expression);
    return undefined;
  } catch (error) {
    return `This is no expression that can be used: ${(error as Error).message.replace(/^.*?: /, '')}`;
  }
}

interface Compiled {
  readonly entry: KnownTracker;
  readonly fits: (name: string) => boolean;
  readonly rank: number;
}

const MATCH_RANK = { exact: 2000, wildcard: 1000, expression: 0 } as const;

/** The library, made ready for many questions. */
export class TrackerLibrary {
  readonly #entries: readonly Compiled[];

  constructor(entries: readonly KnownTracker[]) {
    this.#entries = entries
      .map((entry) => ({ entry, fits: nameTest(entry), rank: rankOf(entry) }))
      .toSorted((a, b) => b.rank - a.rank);
  }

  /** The entry that fits most closely: a domain before none, the exact name before a pattern, the longer before the shorter. */
  find({ kind, name, host }: TrackerKey): KnownTracker | undefined {
    return this.#entries.find(
      ({ entry, fits }) =>
        (entry.kind === null || entry.kind === kind) &&
        (entry.domain === '' || host === entry.domain || host.endsWith(`.${entry.domain}`)) &&
        fits(name),
    )?.entry;
  }
}

function rankOf(entry: KnownTracker): number {
  return (entry.domain ? 10_000 : 0) + (entry.kind ? 5000 : 0) + MATCH_RANK[entry.match] + entry.name.length;
}

function nameTest({ match, name }: KnownTracker): (name: string) => boolean {
  switch (match) {
    case 'exact':
      return (given) => given === name;
    case 'wildcard':
      return (given) => matchesGlob(name, given);
    case 'expression': {
      const expression = RE2JS.compile(name);
      return (given) => expression.matches(given);
    }
  }
}

/** What a new organisation's library holds: names that common server software and open standards give. */
export const FIRST_LIBRARY: readonly KnownTracker[] = [
  ...[
    ['PHPSESSID', 'PHP'],
    ['JSESSIONID', 'Jakarta Servlet'],
    ['ASP.NET_SessionId', 'ASP.NET'],
    ['connect.sid', 'Express sessions'],
    ['laravel_session', 'Laravel'],
    ['_session_id', 'Rails'],
    ['sessionid', 'Django'],
  ].map(([name, software]) =>
    entry(
      String(name),
      'essential',
      `${software}, the site’s server`,
      'Keeps the pages of one visit together.',
    ),
  ),
  ...['XSRF-TOKEN', 'csrftoken', '__RequestVerificationToken*'].map((name) =>
    entry(name, 'essential', 'the site’s server', 'Guards forms against being sent from elsewhere.'),
  ),
  ...['yare_choice', 'yare_tc'].map((name) =>
    entry(name, 'essential', 'Yare Warden', 'Keeps the visitor’s privacy choice.'),
  ),
  entry('euconsent-v2', 'essential', 'IAB Europe TCF', 'Keeps the visitor’s privacy choice.'),
  entry('__gpp', 'essential', 'IAB GPP', 'Keeps the visitor’s privacy choice.'),
];

function entry(name: string, purpose: string, provider: string, text: string): KnownTracker {
  return KnownTracker.parse({
    name,
    match: name.includes('*') ? 'wildcard' : 'exact',
    kind: 'cookie',
    purpose,
    provider,
    texts: { en: text },
  });
}
