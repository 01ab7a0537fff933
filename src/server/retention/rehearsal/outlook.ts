import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Day } from '../../../core/retention/clock/period.ts';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import type { MonthCount, RetentionTotals, RuleTotals } from '../../../core/retention/rehearsal/rehearsal.ts';
import type { LostBecause, RetentionVerdict } from '../../../core/retention/verdict/retention-verdict.ts';
import type { Context } from '../../context.ts';
import { itemNames } from '../../holdings/offers.ts';
import { Bytes } from '../../store/columns.ts';
import { decodeCursor, encodeCursor, type Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { judgeItems, verdictNames, type JudgedItem } from '../items/item-retention.ts';
import { same, type Json } from '../../../core/rules/change.ts';
import { readRule } from '../../rules/rule-store.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import { RETENTION_RULE } from '../rules/retention-rules.ts';
import { countSpecial } from '../special.ts';
import { askRetention, retentionWeighing, type RetentionWeighing } from '../weighing.ts';

export interface NamedCount {
  readonly id: string;
  readonly name: string;
  readonly count: number;
}

/** An item that would go, or that something else decides, as a table shows it. */
export interface ShownItem {
  readonly id: number;
  readonly name: string;
  readonly place: string;
  readonly owner: string;
  /** The last day on which it is kept. */
  readonly ends: Day | null;
  readonly daysOver: number;
  readonly because: string;
}

/** What a rule would do if its draft were in force today, beside those that are. */
export interface RetentionOutlook {
  readonly today: Day;
  readonly totals: RuleTotals;
  readonly months: readonly MonthCount[];
  /** In what is due. */
  readonly people: { readonly people: number; readonly error: number };
  readonly data: readonly NamedCount[];
  readonly owners: readonly NamedCount[];
  readonly sources: readonly NamedCount[];
  readonly special: number;
  readonly heldBy: readonly NamedCount[];
  /** Rules that decide where this one is about it too. */
  readonly beatenBy: readonly NamedCount[];
  readonly movedBy: readonly (NamedCount & {
    readonly article: string;
    /** Kept longer than the rule asks for; of the others the law asks to let go sooner. */
    readonly longer: number;
    readonly examples: readonly ShownItem[];
  })[];
  readonly rivals: readonly (NamedCount & { readonly examples: readonly ShownItem[] })[];
  /** Due today, and nothing yesterday said that they would be; null where yesterday was not counted. */
  readonly surprises: {
    readonly since: Day;
    readonly items: number;
    readonly examples: readonly ShownItem[];
  } | null;
  /** It is about nothing, or another rule decides wherever it is about something. */
  readonly never: string | null;
}

/** Throws a RefusedError for a rule that has no clock yet. */
export async function retentionOutlook(
  ctx: Context,
  account: Pick<Account, 'scope'>,
  rule: string,
): Promise<RetentionOutlook> {
  const weighing = await retentionWeighing(ctx, { rule });
  const found = await askRetention(ctx, account, weighing, { what: 'rule', id: rule, above: '' });
  const names = await itemNames(ctx.store);
  const ruleName = (id: string) =>
    id === ''
      ? 'no rule'
      : id.startsWith('item:')
        ? 'what was set on items by hand'
        : (weighing.contents.get(id)?.name ?? id);
  const due = Bitmap.fromBytes(found.due);
  // A draft that was never rehearsed, or is another by now, has no yesterday.
  const version = await standingVersion(ctx.store, rule);
  const surprises =
    account.scope?.['source'] || version === null
      ? null
      : await surprisesOf(ctx.store, rule, version, weighing.today, due);
  const wanted = [
    ...found.movedBy.flatMap((m) => m.examples),
    ...found.rivals.flatMap((r) => r.examples),
    ...(surprises?.items.first(EXAMPLES) ?? []),
  ];
  const judged = await judgeItems(ctx.store, weighing, wanted);
  const shown = (ids: readonly number[]) =>
    ids.flatMap((id) => {
      const of = judged.get(id);
      return of ? [shownItem(of, weighing, names.sources)] : [];
    });
  const special = await countSpecial(ctx, account, due);
  const count = (of: readonly { value: string; count: number }[], name: (v: string) => string, most = 8) =>
    of.slice(0, most).map(({ value, count: n }) => ({ id: value, name: name(value), count: n }));
  const { totals, figures } = found;
  return {
    today: weighing.today,
    totals,
    months: found.months,
    people: figures.people,
    // What kind of document it is says nothing of who is in it.
    data: count(
      figures.data.filter((d) => !figures.documents.some((k) => k.value === d.value)),
      (d) => names.detectors.get(d) ?? d,
    ),
    owners: count(figures.owners, (o) => o || 'nobody known'),
    sources: count(figures.sources, (s) => names.sources.get(s) ?? s),
    special,
    heldBy: found.heldBy.map(({ hold, items }) => ({
      id: hold,
      name: weighing.holds.find((h) => h.id === hold)?.name ?? hold,
      count: items,
    })),
    beatenBy: found.beatenBy.map(({ rule: by, items }) => ({ id: by, name: ruleName(by), count: items })),
    movedBy: found.movedBy.map(({ bound, items, longer, examples }) => {
      const of = weighing.bounds.find((b) => b.id === bound);
      return {
        id: bound,
        name: of?.name ?? bound,
        article: of?.article ?? '',
        count: items,
        longer,
        examples: shown(examples),
      };
    }),
    rivals: found.rivals.map(({ rule: by, items, examples }) => ({
      id: by,
      name: ruleName(by),
      count: items,
      examples: shown(examples),
    })),
    surprises: surprises && {
      since: surprises.since,
      items: surprises.items.size,
      examples: shown(surprises.items.first(EXAMPLES)),
    },
    never:
      totals.decides > 0
        ? null
        : totals.about === 0
          ? 'nothing that is held is in it'
          : `${ruleName(found.beatenBy[0]?.rule ?? '')} decides wherever it is about something`,
  };
}

const EXAMPLES = 5;

/** The last version of a rule, where its draft says the same; null where it does not. */
async function standingVersion(store: Queries, id: string): Promise<number | null> {
  const { content, lastVersion } = await readRule(store, RETENTION_RULE, id);
  if (lastVersion === 0) return null;
  const kept = await readRuleVersion(store, RETENTION_RULE, id, lastVersion);
  return same(kept as unknown as Json, content as unknown as Json) ? lastVersion : null;
}

async function surprisesOf(
  store: Queries,
  rule: string,
  version: number,
  today: Day,
  due: Bitmap,
): Promise<{ readonly since: Day; readonly items: Bitmap } | null> {
  const before = await store.one(
    z.object({ day: z.string(), due: Bytes, due_next: Bytes }),
    'SELECT day, due, due_next FROM retention_day WHERE rule_id = ? AND day < ? AND version = ? ORDER BY day DESC LIMIT 1',
    [rule, today, version],
  );
  if (!before) return null;
  const expected = Bitmap.fromBytes(before.due).or(Bitmap.fromBytes(before.due_next));
  return { since: before.day, items: due.without(expected) };
}

export function shownItem(
  { item, verdict }: JudgedItem,
  weighing: RetentionWeighing,
  sources: ReadonlyMap<string, string>,
): ShownItem {
  return {
    id: item.id,
    name: item.name,
    place: [sources.get(item.source) ?? item.source, ...item.place.split('/').filter(Boolean)].join(' / '),
    owner: item.owner,
    ends: verdict.ends,
    daysOver: verdict.ends === null ? 0 : Math.max(0, daysBetween(verdict.ends, weighing.today)),
    because: becauseWords(verdict, weighing),
  };
}

const BECAUSE: Readonly<Record<LostBecause, string>> = {
  'less specific': 'more specific than',
  'ends later': 'ends before',
  'ends earlier': 'ends after',
  'ordered behind': 'ordered before',
  'says the same': 'says the same as',
};

/** Why the rule that decides does, in a few words. */
function becauseWords(v: RetentionVerdict, weighing: RetentionWeighing): string {
  const names = verdictNames(weighing, new Map());
  if (v.movedBy !== undefined) return `${names.bound(v.movedBy)}`;
  const [lost] = v.lost;
  if (!lost) return v.by === undefined ? 'no rule' : 'only rule';
  return `${BECAUSE[lost.because]} “${names.rule(lost.rule)}”`;
}

export function daysBetween(from: Day, to: Day): number {
  return Math.round((Date.parse(to) - Date.parse(from)) / 86_400_000);
}

const Cursor = z.tuple([z.number(), z.number()]);

/** The first to go if a rule were in force today, as its draft stands; a page. */
export async function firstToGo(
  ctx: Context,
  account: Pick<Account, 'scope'>,
  rule: string,
  after: string | undefined,
  size: number,
): Promise<Page<ShownItem>> {
  const weighing = await retentionWeighing(ctx, { rule });
  const from = after === undefined ? null : decodeCursor(after, Cursor);
  const found = await askRetention(ctx, account, weighing, {
    what: 'first to go',
    id: rule,
    after: from,
    size: size + 1,
  });
  const page = found.slice(0, size);
  const [judged, names] = await Promise.all([
    judgeItems(
      ctx.store,
      weighing,
      page.map((f) => f.item),
    ),
    itemNames(ctx.store),
  ]);
  const last = page.at(-1);
  return {
    rows: page.flatMap(({ item }) => {
      const of = judged.get(item);
      return of ? [shownItem(of, weighing, names.sources)] : [];
    }),
    next: found.length > size && last ? encodeCursor([last.ends, last.item]) : null,
  };
}

/** What all rules come to: those in force as they are, those that rehearse as if they were. */
export async function retentionTotals(
  ctx: Context,
  account: Pick<Account, 'scope'>,
): Promise<{ readonly inForce: RetentionTotals; readonly rehearsed: readonly RuleTotals[] }> {
  const [inForce, rehearsed] = await Promise.all([
    retentionWeighing(ctx, 'in force'),
    retentionWeighing(ctx, 'rehearsed'),
  ]);
  const [now, then] = await Promise.all([
    askRetention(ctx, account, inForce, { what: 'totals' }),
    askRetention(ctx, account, rehearsed, { what: 'totals' }),
  ]);
  return { inForce: now, rehearsed: then.rules };
}
