import { z } from 'zod';
import { itemVocabulary, placeValue, type ItemRow } from '../holdings/offers.ts';
import { Bitmap } from '../lens/bitmap.ts';
import { lensFaults } from '../lens/lens-faults.ts';
import { LensTextError, parseLens } from '../lens/lens-text.ts';
import type { Lens } from '../lens/lens.ts';
import { dayIn, Period, type Day } from './clock/period.ts';
import { isZone } from './rules/retention-policy.ts';
import { itemVerdict } from './verdict/item-verdict.ts';
import { THEN, type RetentionVerdict } from './verdict/retention-verdict.ts';
import type { ResolvedScope } from './verdict/weighed.ts';
import { retentionWords } from './verdict/verdict-words.ts';

const Id = z.string().min(1).max(120);
const DayText = z.string().regex(/^\d{4}-\d{2}-\d{2}$/, 'A day such as 2026-11-29.');

/** Sources, detectors and levels are called whatever the files call them. */
const ANY = { get: (id: string) => id } as unknown as ReadonlyMap<string, string>;
const FACTS = {
  fact: itemVocabulary({ sources: ANY, detectors: ANY, levels: ANY, levelRules: ANY } as Parameters<
    typeof itemVocabulary
  >[0]).fact,
  value: (_fact: string, value: string) => value,
};

/** A condition as a line of text, read as a lens. */
const LensLine = z
  .string()
  .default('everything')
  .transform((line, ctx): Lens => {
    try {
      const lens = parseLens(line);
      const [fault] = lensFaults(lens, FACTS);
      if (fault) ctx.addIssue(fault.words);
      return lens;
    } catch (error) {
      if (!(error instanceof LensTextError)) throw error;
      ctx.addIssue(error.message);
      return { any: [] };
    }
  });

const Place = z.strictObject({ source: Id, path: z.string().max(2000).default('') });
const Scope = {
  where: LensLine,
  place: Place.nullable().default(null),
  /** Sources and paths, in whose steps `*` stands for any run of characters. */
  places: z.array(Place).max(200).default([]),
  /** As the items call them; everybody's where there are none. */
  owners: z.array(z.string().min(1).max(254)).max(5000).default([]),
};
const Term = {
  /** `null`: for good. */
  keep: Period.nullable(),
  after: z.string().min(1).max(80).default('changed'),
  yearEnd: z.boolean().default(false),
  unknown: z.enum(['created', 'changed', 'never begins']).default('never begins'),
};

export const RetentionFile = z.strictObject({
  /** Where days are told (IANA). */
  zone: z.string().default('UTC').refine(isZone, 'A time zone such as Europe/Copenhagen.'),
  rules: z
    .array(
      z.strictObject({
        id: Id,
        name: z.string().max(200).default(''),
        ...Scope,
        ...Term,
        then: z.enum(Object.keys(THEN) as [keyof typeof THEN, ...(keyof typeof THEN)[]]),
        order: z.int().min(0).nullable().default(null),
        /** Set on these items themselves. */
        items: z.array(Id).nullable().default(null),
      }),
    )
    .refine(isUnlike, 'Two rules have the same id.'),
  bounds: z
    .array(
      z.strictObject({
        id: Id,
        name: z.string().max(200).default(''),
        kind: z.enum(['minimum', 'maximum']),
        ...Scope,
        ...Term,
      }),
    )
    .default([])
    .refine(isUnlike, 'Two bounds have the same id.'),
});
export type RetentionFile = z.infer<typeof RetentionFile>;

export const HoldFile = z.strictObject({
  holds: z
    .array(
      z.strictObject({
        id: Id,
        name: z.string().max(200).default(''),
        ...Scope,
        /** Changed within these days, where they are given. */
        from: DayText.nullable().default(null),
        until: DayText.nullable().default(null),
      }),
    )
    .refine(isUnlike, 'Two holds have the same id.'),
});
export type HoldFile = z.infer<typeof HoldFile>;

const Instant = z
  .string()
  .max(40)
  .refine(
    (t) => /^\d{4}-\d{2}-\d{2}(?:T|$)/.test(t) && !Number.isNaN(Date.parse(t)),
    'A day or a moment (ISO 8601).',
  );

/** One line of the items. */
export const RetainedItem = z.strictObject({
  id: Id,
  source: Id,
  place: z.string().max(4000).default(''),
  name: z.string().max(400).default(''),
  created: Instant.nullable().default(null),
  changed: Instant.nullable().default(null),
  owner: z.string().max(254).default(''),
  format: z.string().max(40).default(''),
  size: z.number().min(0).default(0),
  document: z.string().max(64).nullable().default(null),
  level: z.string().max(64).nullable().default(null),
  people: z.int().min(0).default(0),
  /** Matches by detector. */
  data: z.record(z.string(), z.int().min(0)).default({}),
  events: z.record(z.string(), Instant).default({}),
});
export type RetainedItem = z.infer<typeof RetainedItem>;

/** A verdict as it is told: what there is not is null. */
export type ItemAnswer = { readonly item: string; readonly why: readonly string[] } & {
  readonly [K in keyof RetentionVerdict]: Exclude<RetentionVerdict[K], undefined> | null;
};

/** The verdict on one item of a file, on a day. */
export function judge(
  item: RetainedItem,
  { zone, rules, bounds }: RetentionFile,
  { holds: all }: HoldFile,
  today: Day,
): ItemAnswer {
  const ofItem = (items: readonly string[]) => (items.includes(item.id) ? Bitmap.of([ROW]) : Bitmap.EMPTY);
  const verdict = itemVerdict(
    rowOf(item),
    {
      zone,
      rules: rules.flatMap((r) => (r.items === null ? [{ ...r, ...termOf(r), scope: scopeOf(r) }] : [])),
      exceptions: rules.flatMap((r) =>
        r.items === null ? [] : [{ ...r, ...termOf(r), items: ofItem(r.items) }],
      ),
      bounds: bounds.map((b) => ({ ...b, ...termOf(b), scope: scopeOf(b) })),
      holds: all.map((h) => ({ ...h, scope: scopeOf(h) })),
    },
    new Map(Object.entries(item.events).map(([name, at]) => [name, dayIn(at, zone)])),
    today,
  );
  const named = (of: readonly { readonly id: string; readonly name: string }[]) => (id: string) =>
    of.find((o) => o.id === id)?.name || id;
  const why = retentionWords(verdict, { rule: named(rules), bound: named(bounds), hold: named(all) });
  const { by = null, movedBy = null, conflict = null, ...rest } = verdict;
  return { item: item.id, ...rest, by, movedBy, conflict, why };
}

function termOf({
  keep,
  after,
  yearEnd,
  unknown,
}: Pick<RetentionFile['rules'][number], 'keep' | 'after' | 'yearEnd' | 'unknown'>) {
  return { period: keep, clock: { after, yearEnd, unknown } };
}

function scopeOf({
  where,
  place,
  places,
  owners,
}: Pick<RetentionFile['bounds'][number], 'where' | 'place' | 'places' | 'owners'>): ResolvedScope {
  const named = [...(place === null ? [] : [place]), ...places];
  const isOwned = owners.length > 0;
  return {
    lens: isOwned ? { all: [where, { fact: 'owner', is: 'one of', values: owners }] } : where,
    places: named.map(({ source, path }) => placeValue(source, path.split('/').filter(Boolean).join('/'))),
    wide: !isOwned && 'all' in where && where.all.length === 0,
  };
}

/** The number of the one item that is looked at. */
const ROW = 0;

function rowOf(item: RetainedItem): ItemRow {
  return {
    ...{ id: ROW, source: item.source, place: item.place, name: item.name, size: item.size },
    ...{ created: item.created, changed: item.changed, owner: item.owner, format: item.format },
    ...{ state: 'read', document: item.document, people: item.people },
    level: item.level === null ? undefined : { id: item.level, by: 'hand' },
    findings: Object.entries(item.data)
      .filter(([, matches]) => matches > 0)
      .map(([detector, matches]) => ({ detector, matches, confidence: 1 })),
  };
}

function isUnlike(all: readonly { readonly id: string }[]): boolean {
  return new Set(all.map((a) => a.id)).size === all.length;
}
