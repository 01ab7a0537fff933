import { z } from 'zod';
import { canonicalDigest } from '../../evidence/canonical.ts';
import { judgeAll, type Terms, type Verdict } from '../trackers/leak.ts';
import type { Proposal } from '../trackers/proposal.ts';
import { OUTCOMES, type NoticeReading, type Role } from '../reading/notice-reading.ts';
import { wayWords } from '../reading/notice-way.ts';
import type { SwitchRun } from '../reading/switch-run.ts';
import type { Purpose } from '../notice/purpose.ts';
import { REGIMES, regimeOf } from '../notice/regime.ts';
import { MOMENTS, TRACKER_KINDS, type ObservedTracker } from '../trackers/tracker.ts';
import { VISITORS, type Visitor } from '../trackers/visitor.ts';

const Visitors = z.array(z.enum(VISITORS)).readonly();

const ReportCause = z.strictObject({
  what: z
    .enum(['page', 'script', 'frame', 'style', 'response'])
    .describe(
      'page: the page’s own tag or inline script; script: a script, module or worker; frame: a frame; style: a style sheet; response: the answer that set it or sent on',
    ),
  url: z.string(),
  line: z.int().positive().nullable().describe('1-based; null where the browser gives none'),
});

const ReportSighting = z.strictObject({
  visitor: z.enum(VISITORS),
  pages: z.int().nonnegative().describe('on how many of this visitor’s pages'),
  firstPage: z.string(),
  onPages: z.array(z.string()).describe('the pages it was on, at most fifty of them'),
  moment: z.enum(MOMENTS).describe('what the visitor was doing when it was first seen'),
  setBy: z.enum(['http', 'script', 'page']),
  refused: z
    .string()
    .describe('why the browser refused it, in words; empty where it was done. A refused one is an attempt'),
  lifetime: z.number().nullable().describe('seconds, as declared; null for a session or without an end'),
  valueLength: z.int().nonnegative(),
  valueBits: z
    .number()
    .nonnegative()
    .describe('estimated entropy of the value; the value itself is never kept'),
  resource: z.string().describe('what kind of resource a request asked for; empty otherwise'),
  cookie: z
    .strictObject({
      httpOnly: z.boolean(),
      secure: z.boolean(),
      sameSite: z.enum(['strict', 'lax', 'none', 'unset']),
      partitioned: z.boolean(),
    })
    .nullable(),
  sends: z
    .array(
      z.strictObject({
        kind: z.enum(TRACKER_KINDS),
        name: z.string(),
        host: z.string(),
        where: z.string(),
        as: z.enum(['itself', 'base64', 'MD5', 'SHA-1', 'SHA-256']),
      }),
    )
    .describe('stored values that go out with it'),
  cause: z.array(ReportCause).describe('from the page’s own tag to what set it or asked for it'),
});

const ReportVerdict = z.strictObject({
  verdict: z.enum(['not seen', 'allowed', 'attempt', 'unsorted', 'presumed leak', 'leak']),
  why: z.string(),
  law: z.string().describe('the rule that a leak, also a presumed one, breaks; empty otherwise'),
});

const ReportTracker = z.strictObject({
  kind: z.enum(TRACKER_KINDS),
  name: z.string().describe('what changes from visitor to visitor stands as *'),
  host: z
    .string()
    .describe(
      'cookie: its domain; request, link decoration, bounce: where it goes; stored things: their origin’s host; fingerprint: host of the script that reads',
    ),
  party: z.enum(['first', 'third']),
  alias: z
    .string()
    .describe(
      'the other company’s host behind a name of the site’s own (DNS CNAME); empty where there is none',
    ),
  survivesBlocking: z.boolean().describe('false for what is gone where a browser blocks third-party cookies'),
  states: Visitors.describe('the visitors that saw it, attempts included'),
  attempts: Visitors.describe('those of them for whom the browser refused it every time'),
  leaks: Visitors,
  presumed: Visitors.describe('those for whom it leaks unless it is essential, which nobody has said'),
  verdicts: z.partialRecord(z.enum(VISITORS), ReportVerdict),
  purpose: z.string().nullable().describe('decided by a person, or else proposed; null where neither'),
  decided: z.boolean(),
  confidence: z.number().min(0).max(1).describe('of the proposal'),
  reasons: z.array(z.strictObject({ purpose: z.string(), words: z.string(), weight: z.number() })),
  ranWith: z.array(z.string()).describe('the switches of the notice with which, alone on, it ran'),
  pages: z.int().nonnegative().describe('the most pages any visitor saw it on'),
  lifetime: z.number().nullable().describe('the longest seen, in seconds'),
  cause: z.array(ReportCause).describe('of the first sighting that has one'),
  sightings: z.array(ReportSighting),
});

const ReportWay = z.string().describe('as it reads: “Let me pick”, all switches off, “Save these”');

const ReportRole = z.strictObject({
  way: ReportWay,
  why: z.string(),
  by: z.enum(['words', 'trial', 'person']),
});

const ReportNotice = z.strictObject({
  words: z.string().describe('what it says, cut short'),
  place: z.enum(['over', 'beside']),
  late: z.boolean().describe('it came only after a while, or once somebody moved'),
  before: z.int().describe('trackers that ran on the start page before any answer'),
  tried: z.array(
    z.strictObject({
      way: ReportWay,
      outcome: z.enum(OUTCOMES),
      ran: z.int().nullable().describe('trackers that ran after it; null where it was no answer'),
    }),
  ),
  accept: ReportRole.nullable(),
  refuse: ReportRole.nullable(),
  choose: ReportRole.nullable(),
  switches: z.array(
    z.strictObject({
      words: z.string(),
      purpose: z.string().nullable(),
      by: z.enum(['words', 'trial', 'person']),
      on: z.boolean().describe('as it stands at first'),
      locked: z.boolean(),
    }),
  ),
});

/** What a sweep found, as it is exported and as the command line writes it. */
export const SweepReport = z.strictObject({
  format: z.literal('yare-sweep-report'),
  version: z.literal(3),
  site: z.string().describe('host, with its port where that is not the scheme’s own'),
  startUrl: z.string(),
  startedAt: z.iso.datetime(),
  finishedAt: z.iso.datetime(),
  state: z.enum(['complete', 'cancelled', 'failed']),
  region: z.string(),
  regime: z.enum(REGIMES),
  law: z.string(),
  chosen: z.array(z.string()).describe('the purposes that the visitor with a choice of its own allowed'),
  purposes: z.array(
    z.strictObject({ code: z.string(), name: z.string(), essential: z.boolean(), shares: z.boolean() }),
  ),
  visitors: z.array(
    z.strictObject({
      visitor: z.enum(VISITORS),
      tried: z.boolean().describe('false where no notice was found to make the choice on'),
      incomplete: z
        .boolean()
        .describe('its time ended before it had seen all pages: what it did not see has no verdict'),
      operated: z.string().nullable().describe('what the choice was made on, and what was pressed'),
      pages: z.array(z.strictObject({ url: z.string(), status: z.int().nullable(), note: z.string() })),
      picture: z.string().nullable().describe('SHA-256 of the picture of the start page, hexadecimal'),
    }),
  ),
  notice: ReportNotice.nullable().describe(
    'how the site’s notice was read; null where it was not, or is the organisation’s own',
  ),
  switches: z
    .array(
      z.strictObject({
        words: z.string(),
        purpose: z.string().nullable(),
        by: z.enum(['words', 'trial', 'person']),
        pages: z.int().nonnegative(),
      }),
    )
    .describe('the switches of the notice that were tried, each on alone, on so many pages'),
  notes: z.array(z.strictObject({ visitor: z.enum(VISITORS).nullable(), words: z.string() })),
  counts: z.strictObject({
    pages: z.int(),
    trackers: z.int(),
    leaks: z.int(),
    presumed: z
      .int()
      .describe('trackers that leak for nobody for certain, and for somebody unless they are essential'),
    unsorted: z.int(),
    attempts: z.int(),
  }),
  trackers: z.array(ReportTracker),
});
export type SweepReport = z.infer<typeof SweepReport>;

export interface ReportInput {
  readonly site: string;
  readonly startUrl: string;
  readonly startedAt: Date;
  readonly finishedAt: Date;
  readonly state: SweepReport['state'];
  readonly terms: Terms;
  readonly purposes: readonly Purpose[];
  readonly visitors: SweepReport['visitors'];
  readonly notes: SweepReport['notes'];
  readonly reading: NoticeReading | null;
  readonly switches: readonly SwitchRun[];
  readonly trackers: readonly {
    readonly tracker: ObservedTracker;
    readonly decided: string | null;
    readonly proposal: Proposal;
    /** Words of the switches with which it ran. */
    readonly ranWith: readonly string[];
  }[];
}

/** Puts a sweep's findings into their documented form; what leaks first, then by host and name. */
export function sweepReport(input: ReportInput): SweepReport {
  const { terms, purposes } = input;
  const tried = input.visitors.filter((v) => v.tried).map((v) => v.visitor);
  const incomplete = input.visitors.filter((v) => v.incomplete).map((v) => v.visitor);
  const trackers = input.trackers
    .map((t) =>
      reportTracker(
        t,
        // What a visitor did not walk to says nothing of it.
        tried.filter((v) => !incomplete.includes(v) || t.tracker.sightings.some((s) => s.visitor === v)),
        terms,
        purposes,
      ),
    )
    .toSorted(
      (a, b) =>
        Math.sign(b.leaks.length) - Math.sign(a.leaks.length) ||
        Math.sign(b.presumed.length) - Math.sign(a.presumed.length) ||
        compare(a.host, b.host) ||
        compare(a.name, b.name) ||
        compare(a.kind, b.kind),
    );
  const { regime, law } = terms.regime ?? regimeOf(terms.region);
  return {
    format: 'yare-sweep-report',
    version: 3,
    site: input.site,
    startUrl: input.startUrl,
    startedAt: input.startedAt.toISOString(),
    finishedAt: input.finishedAt.toISOString(),
    state: input.state,
    region: terms.region,
    regime,
    law,
    chosen: [...terms.chosen],
    purposes: purposes.map((p) => ({ ...p })),
    visitors: input.visitors,
    notice: input.reading && reportNotice(input.reading),
    switches: input.switches.map((s) => ({ ...s })),
    notes: input.notes,
    counts: {
      pages: new Set(input.visitors.flatMap((v) => v.pages.map((p) => p.url))).size,
      trackers: trackers.length,
      leaks: trackers.filter((t) => t.leaks.length > 0).length,
      presumed: trackers.filter((t) => t.leaks.length === 0 && t.presumed.length > 0).length,
      unsorted: trackers.filter((t) => t.purpose === null).length,
      attempts: trackers.filter((t) => t.attempts.length === t.states.length).length,
    },
    trackers,
  };
}

function reportNotice({ words, place, late, before, ...reading }: NoticeReading): SweepReport['notice'] {
  const role = (r: Role | null) => r && { way: wayWords(r.way), why: r.why, by: r.by };
  return {
    ...{ words, place, late, before },
    tried: reading.tried.map(({ way, outcome, ran }) => ({ way: wayWords(way), outcome, ran })),
    accept: role(reading.roles.accept),
    refuse: role(reading.roles.refuse),
    choose: role(reading.roles.choose),
    switches: reading.switches.map(({ about: _about, ...s }) => s),
  };
}

/** SHA-256 over the report's RFC 8785 canonical JSON, hexadecimal; this is what the ledger keeps. */
export function reportDigest(report: SweepReport): string {
  return canonicalDigest(report);
}

function reportTracker(
  { tracker, decided, proposal, ranWith }: ReportInput['trackers'][number],
  tried: readonly Visitor[],
  terms: Terms,
  purposes: readonly Purpose[],
): SweepReport['trackers'][number] {
  const { kind, name, host, sightings } = tracker;
  const code = decided ?? (purposes.some((p) => p.code === proposal.purpose) ? proposal.purpose : null);
  const purpose = purposes.find((p) => p.code === code) ?? null;
  const verdicts = judgeAll(purpose, sightings, tried, terms, proposal.essential);
  const lifetimes = sightings.flatMap((s) => (s.lifetime === null ? [] : [s.lifetime]));
  const first = sightings.find((s) => s.cause.length > 0) ?? sightings[0];
  const of = (verdict: Verdict['verdict']) => tried.filter((v) => verdicts[v]?.verdict === verdict);
  return {
    kind,
    name,
    host,
    party: sightings.some((s) => s.party === 'third') ? 'third' : 'first',
    alias: sightings.find((s) => s.alias)?.alias ?? '',
    survivesBlocking: !sightings.some((s) => s.blockable),
    states: sightings.map((s) => s.visitor),
    attempts: sightings.filter((s) => s.refused).map((s) => s.visitor),
    leaks: of('leak'),
    presumed: of('presumed leak'),
    verdicts: Object.fromEntries(
      Object.entries(verdicts).map(([v, verdict]) => [
        v,
        {
          verdict: verdict.verdict,
          why: 'why' in verdict ? verdict.why : '',
          law: 'law' in verdict ? verdict.law : '',
        },
      ]),
    ),
    purpose: code,
    decided: decided !== null,
    confidence: proposal.confidence,
    reasons: proposal.reasons.map((r) => ({ ...r })),
    ranWith: [...ranWith],
    pages: Math.max(0, ...sightings.map((s) => s.pages)),
    lifetime: lifetimes.length ? Math.max(...lifetimes) : null,
    cause: causeOf(first?.cause ?? []),
    sightings: sightings.map((s) => ({
      visitor: s.visitor,
      pages: s.pages,
      firstPage: s.firstPage,
      onPages: [...s.onPages],
      moment: s.moment,
      setBy: s.setBy,
      refused: s.refused,
      lifetime: s.lifetime,
      valueLength: s.valueLength,
      valueBits: s.valueBits,
      resource: s.resource,
      cookie: s.cookie,
      sends: s.sends.map((x) => ({ ...x })),
      cause: causeOf(s.cause),
    })),
  };
}

function causeOf(
  cause: ObservedTracker['sightings'][number]['cause'],
): SweepReport['trackers'][number]['cause'] {
  return cause.map(({ what, url, line }) => ({ what, url, line: line && line > 0 ? line : null }));
}

function compare(a: string, b: string): number {
  return a < b ? -1 : a > b ? 1 : 0;
}

/** The key of a cause without what moves with every release of a script. */
export function causeKey(cause: readonly { readonly url: string }[]): string {
  return cause
    .map(({ url }) => (URL.canParse(url) ? new URL(url).host + new URL(url).pathname : url))
    .slice(1)
    .join(' → ');
}
