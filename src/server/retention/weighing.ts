import { z } from 'zod';
import type { Account } from '../../core/accounts/authority.ts';
import { lensFaults } from '../../core/lens/lens-faults.ts';
import { EVERYTHING } from '../../core/lens/lens.ts';
import { dayNumber } from '../../core/lens/fact-index.ts';
import { RefusedError } from '../../core/refusal.ts';
import { versionRehearsed } from '../../core/rules/rule.ts';
import { dayIn, type Day } from '../../core/retention/clock/period.ts';
import { HoldContent } from '../../core/retention/holds/hold.ts';
import type { RetentionNames, RetentionRuleDraft } from '../../core/retention/rules/retention-rule.ts';
import { termOf } from '../../core/retention/rules/term.ts';
import { isWide, type Scope } from '../../core/retention/scope/scope.ts';
import type {
  EventDays,
  ResolvedBound,
  ResolvedException,
  ResolvedHold,
  ResolvedRule,
  ResolvedScope,
} from '../../core/retention/verdict/weighed.ts';
import type { Context } from '../context.ts';
import { askLens } from '../holdings/offers.ts';
import { listRules, readRule } from '../rules/rule-store.ts';
import { readRuleVersion } from '../rules/rule-versions.ts';
import { rulesInForce } from '../rules/rules-in-force.ts';
import { BigId } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import { standingExceptions } from './exceptions/exceptions.ts';
import { HOLD } from './holds/holds.ts';
import { Owners } from './owners.ts';
import { readRetentionPolicy } from './policy.ts';
import type { RetentionAnswer, RetentionQuestion } from './rehearsal/retention-answers.ts';
import { retentionNames } from './retention-names.ts';
import { LAW_BOUND } from './rules/law-bounds.ts';
import { RETENTION_RULE } from './rules/retention-rules.ts';

/** A rule as it is weighed, with what it says. */
export type WeighedRule = RetentionRuleDraft & { readonly id: string; readonly version: number };

/** All that is weighed, and how it is called. */
export interface RetentionWeighing {
  readonly zone: string;
  /** Where the organisation is. */
  readonly today: Day;
  readonly names: RetentionNames;
  readonly contents: ReadonlyMap<string, WeighedRule>;
  readonly rules: readonly ResolvedRule[];
  readonly bounds: readonly (ResolvedBound & { readonly name: string; readonly article: string })[];
  readonly holds: readonly (ResolvedHold & { readonly name: string; readonly content: HoldContent })[];
}

/**
 * Which rules are weighed: those in force; with those that rehearse, as if they were; or with one, as its draft stands or
 * in its last version.
 */
export type Looked = { readonly rule: string; readonly as?: 'draft' | 'version' } | 'in force' | 'rehearsed';

/** Throws a RefusedError for a rule that has no clock yet. */
export async function retentionWeighing(
  ctx: Context,
  looked: Looked,
  store: Queries = ctx.store,
): Promise<RetentionWeighing> {
  const [{ zone }, names, contents, bounds, holds] = await Promise.all([
    readRetentionPolicy(store),
    retentionNames(store),
    contentsOf(store, looked),
    rulesInForce(store, LAW_BOUND),
    rulesInForce(store, HOLD),
  ]);
  const owners = new Owners(ctx);
  const resolved = async (scope: Scope): Promise<ResolvedScope> =>
    lensFaults(scope.lens, names.items).length > 0
      ? { lens: { any: [] }, places: scope.places, wide: false }
      : resolveScope(scope, owners);
  return {
    zone,
    today: dayIn(ctx.now().toISOString(), zone),
    names,
    contents: new Map(contents.map((c) => [c.id, c])),
    rules: (
      await Promise.all(
        contents.map(async (c): Promise<ResolvedRule[]> => {
          const term = termOf(c);
          return term ? [{ ...term, id: c.id, scope: await resolved(c), then: c.then, order: c.order }] : [];
        }),
      )
    ).flat(),
    bounds: (
      await Promise.all(
        bounds.map(async (b) => {
          const term = termOf(b);
          const { id, kind, name, article } = b;
          return term ? [{ ...term, id, kind, name, article, scope: await resolved(b) }] : [];
        }),
      )
    ).flat(),
    holds: await Promise.all(holds.map((h) => resolveHold(h.id, h, names, owners))),
  };
}

async function resolveScope(scope: Scope, owners: Owners): Promise<ResolvedScope> {
  const people = await owners.lensOf(scope);
  return {
    lens: people === EVERYTHING ? scope.lens : { all: [scope.lens, people] },
    places: scope.places,
    wide: isWide(scope),
  };
}

/**
 * A hold as it is weighed. One that names a kind of data, a place or a lens that is gone holds more, never less: everything in
 * its places, so that nothing goes before somebody looks.
 */
export async function resolveHold(
  id: string,
  content: HoldContent,
  names: RetentionNames,
  owners: Owners,
): Promise<RetentionWeighing['holds'][number]> {
  const isFaulty = lensFaults(content.lens, names.items).length > 0;
  return {
    id,
    name: content.name,
    content,
    scope: await resolveScope(isFaulty ? { ...content, lens: EVERYTHING } : content, owners),
    from: content.from || null,
    until: content.until || null,
  };
}

async function contentsOf(store: Queries, looked: Looked): Promise<readonly WeighedRule[]> {
  if (looked === 'rehearsed') {
    const all = await listRules(store, RETENTION_RULE, ['in force', 'rehearsing']);
    return Promise.all(
      all.map(async ({ id, stage }) => {
        const version = versionRehearsed(stage) ?? 0;
        return { ...(await readRuleVersion(store, RETENTION_RULE, id, version)), id, version };
      }),
    );
  }
  const inForce = await rulesInForce(store, RETENTION_RULE);
  if (looked === 'in force') return inForce;
  const { content: draft, lastVersion } = await readRule(store, RETENTION_RULE, looked.rule);
  const isVersion = looked.as === 'version' && lastVersion > 0;
  const content = isVersion ? await readRuleVersion(store, RETENTION_RULE, looked.rule, lastVersion) : draft;
  if (!termOf(content))
    throw new RefusedError('Choose how long it keeps.', [{ field: 'keep', message: 'Choose how long.' }]);
  return [
    ...inForce.filter((r) => r.id !== looked.rule),
    { ...content, id: looked.rule, version: isVersion ? lastVersion : 0 },
  ];
}

/** Asks the thread that has all items in memory. Somebody who looks may see what was so some seconds ago; the program decides. */
export async function askRetention<W extends RetentionQuestion['ask']['what']>(
  ctx: Context,
  asker: Pick<Account, 'scope'> | 'the program',
  weighing: RetentionWeighing,
  ask: Extract<RetentionQuestion['ask'], { what: W }>,
): Promise<RetentionAnswer[W]> {
  const question = await questionOf(ctx, weighing, ask);
  const answer = await askLens(ctx, {
    lens: EVERYTHING,
    today: weighing.today,
    ...(asker === 'the program'
      ? { sources: null }
      : { sources: asker.scope?.['source'] ?? null, mayBeOld: true }),
    ask: { what: 'area', area: 'retention', question },
  });
  return answer as RetentionAnswer[W];
}

async function questionOf(
  { store }: Context,
  { zone, today, rules, bounds, holds }: RetentionWeighing,
  ask: RetentionQuestion['ask'],
): Promise<RetentionQuestion> {
  const exceptions = await standingExceptions(store, today);
  return {
    weighed: {
      zone,
      rules,
      bounds: bounds.map(({ name: _n, article: _a, ...b }) => b),
      holds: holds.map(({ name: _n, content: _c, ...h }) => h),
      exceptions: exceptions.map((e) => ({ ...e, items: e.items.toBytes() })),
      events: await clockDays(store, clocksOf([...rules, ...bounds, ...exceptions])),
    },
    today,
    ask,
  };
}

export function clocksOf(
  terms: readonly { readonly clock: ResolvedException['clock'] }[],
): readonly string[] {
  return [...new Set(terms.map((t) => t.clock.after))].filter((a) => a.startsWith('clock:')).sort();
}

/** Rows of which there may be a million, written here alone, are not checked one by one. */
const Raw = z.custom<{ readonly item_id: number | string; readonly day: string }>();

async function clockDays(store: Queries, clocks: readonly string[]): Promise<readonly EventDays[]> {
  return Promise.all(
    clocks.map(async (id): Promise<EventDays> => {
      const rows = await store.all(
        Raw,
        'SELECT item_id, day FROM item_clock WHERE clock_id = ? AND day IS NOT NULL ORDER BY item_id',
        [id.slice('clock:'.length)],
      );
      return {
        id,
        items: Uint32Array.from(rows, (r) => Number(r.item_id)),
        days: Int32Array.from(rows, (r) => dayNumber(r.day)),
      };
    }),
  );
}

/** What clocks tell of items, by item and clock. */
export async function clockDaysOf(
  store: Queries,
  items: readonly number[],
): Promise<ReadonlyMap<number, ReadonlyMap<string, Day>>> {
  if (items.length === 0) return new Map();
  const rows = await store.all(
    z.object({ clock_id: z.number(), item_id: BigId.transform(Number), day: z.string() }),
    'SELECT clock_id, item_id, day FROM item_clock WHERE item_id IN (?) AND day IS NOT NULL',
    [items],
  );
  const found = new Map<number, Map<string, Day>>();
  for (const { clock_id, item_id, day } of rows) {
    const of = found.get(item_id) ?? new Map<string, Day>();
    found.set(item_id, of.set(`clock:${clock_id}`, day));
  }
  return found;
}
