import { z } from 'zod';
import { itemFact, itemVocabulary, type ItemRow } from '../../../core/holdings/offers.ts';
import type { Account } from '../../../core/accounts/authority.ts';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import { holds } from '../../../core/lens/lens-item.ts';
import { lensWords } from '../../../core/lens/lens-words.ts';
import { EVERYTHING, type Lens } from '../../../core/lens/lens.ts';
import {
  changedBy,
  levelPlan,
  type LevelPlan,
  type PresentSet,
  type RuleOutcome,
  type RuleSet,
} from '../../../core/protection/rules/level-plan.ts';
import {
  levelProposal,
  levelProposals,
  type LevelProposal,
} from '../../../core/protection/rules/level-proposal.ts';
import { hopelessRules } from '../../../core/protection/rules/level-rule.ts';
import {
  levelVerdict,
  type LevelVerdict,
  type PresentLevel,
  type Ranks,
  type WeighedRule,
} from '../../../core/protection/rules/level-verdict.ts';
import { readSetBy, verdictWords, type VerdictNames } from '../../../core/protection/rules/verdict-words.ts';
import { STAMPED_FORMATS } from '../../../core/protection/stamp/stamped-formats.ts';
import type { Context } from '../../context.ts';
import { askLens, itemNames, itemRows } from '../../holdings/offers.ts';
import { keepToScope } from '../../accounts/scope-condition.ts';
import { Count } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { Where } from '../../store/where.ts';
import { readRule } from '../../rules/rule-store.ts';
import { levelRanks } from '../levels/levels.ts';
import { declinedItems } from './declined-items.ts';
import { LEVEL_RULE, levelRulesInForce, type RuleInForce } from './level-rules.ts';

/** The rules that are weighed together, with all that is needed to weigh them. */
export interface Weighing {
  readonly rules: readonly RuleInForce[];
  readonly weighed: readonly WeighedRule[];
  readonly ranks: Ranks;
  /** By id of a rule; what names something that is gone holds for nothing. */
  readonly lenses: ReadonlyMap<string, Lens>;
  readonly names: VerdictNames;
  readonly today: string;
}

/** The rules in force; and one as its draft stands, as if that were in force. */
export async function weighing(ctx: Context, looked?: string): Promise<Weighing> {
  const inForce = await levelRulesInForce(ctx.store);
  if (looked === undefined) return weighingOf(ctx, inForce);
  const { content } = await readRule(ctx.store, LEVEL_RULE, looked);
  return weighingOf(ctx, [...inForce.filter((r) => r.id !== looked), { ...content, id: looked, version: 0 }]);
}

export async function weighingOf(ctx: Context, rules: readonly RuleInForce[]): Promise<Weighing> {
  const items = await itemNames(ctx.store);
  const vocabulary = itemVocabulary(items);
  const isFaulty = (lens: Lens) => lensFaults(lens, vocabulary).length > 0;
  return {
    rules,
    weighed: rules.map(({ id, level, keeps, how }) => ({
      id,
      level,
      keep: keeps === 'step',
      proposes: how === 'propose',
    })),
    ranks: await levelRanks(ctx.store),
    lenses: new Map(rules.map((r) => [r.id, isFaulty(r.lens) ? { any: [] } : r.lens])),
    names: {
      level: (id) => items.levels.get(id) ?? `“${id}”`,
      rule: (id) => rules.find((r) => r.id === id)?.name ?? items.levelRules.get(id) ?? `rule ${id}`,
      condition: (id) =>
        lensWords(rules.find((r) => r.id === id)?.lens ?? EVERYTHING, vocabulary) || 'it is held at all',
    },
    today: ctx.now().toISOString().slice(0, 10),
  };
}

/** The rules with the items that they hold for, the levels that items have, and what comes of them. */
export interface WeighedSets {
  readonly sets: readonly RuleSet[];
  readonly presents: readonly PresentSet[];
  readonly plan: LevelPlan;
}

/** What the rules come to over all items that an account may see. */
export async function weighSets(
  ctx: Context,
  { rules, weighed, ranks, lenses, today }: Weighing,
  sources: readonly string[] | null,
): Promise<WeighedSets> {
  const about = { today, sources };
  const [sets, levels] = await Promise.all([
    Promise.all(
      rules.map(async (r) => ({
        rule: weighed.find((w) => w.id === r.id) as WeighedRule,
        items: Bitmap.fromBytes(
          await askLens(ctx, { ...about, lens: lenses.get(r.id) ?? { any: [] }, ask: { what: 'ids' } }),
        ),
      })),
    ),
    askLens(ctx, { ...about, lens: EVERYTHING, ask: { what: 'levels' } }),
  ]);
  const presents = levels.map((p) => ({
    present: { level: p.level, by: readSetBy(p.by) },
    items: Bitmap.fromBytes(p.items),
  }));
  return { sets, presents, plan: levelPlan(sets, presents, ranks) };
}

export async function planOf(
  ctx: Context,
  weighed: Weighing,
  sources: readonly string[] | null,
): Promise<LevelPlan> {
  return (await weighSets(ctx, weighed, sources)).plan;
}

/** The verdict on one item, and what the item has. */
export function verdictOn(
  item: ItemRow,
  { weighed, ranks, lenses, today }: Weighing,
): { readonly verdict: LevelVerdict; readonly present: PresentLevel | undefined } {
  const present = item.level && { level: item.level.id, by: readSetBy(item.level.by) };
  const verdict = levelVerdict(
    weighed,
    (r) => holds(lenses.get(r.id) ?? { any: [] }, (fact) => itemFact(item, fact), today),
    present,
    ranks,
  );
  return { verdict, present };
}

/** What is proposed for one item, whoever said no before. */
function proposalOn(item: ItemRow, { weighed, ranks, lenses, today }: Weighing): LevelProposal | undefined {
  const present = item.level && { level: item.level.id, by: readSetBy(item.level.by) };
  return levelProposal(
    weighed,
    (r) => holds(lenses.get(r.id) ?? { any: [] }, (fact) => itemFact(item, fact), today),
    present,
    ranks,
    new Set(),
  );
}

/** What a rule comes to, in items. */
export interface RuleCounts {
  readonly id: string;
  readonly name: string;
  readonly level: string;
  readonly holds: number;
  readonly set: number;
  readonly raised: number;
  readonly lowered: number;
  /** It would win; what somebody chose stands. */
  readonly stands: number;
  /** It holds, and another rule decides. */
  readonly beaten: number;
  /** It sets nothing itself: owners are asked. */
  readonly asks: boolean;
  /** Owners would be asked about them. */
  readonly proposed: number;
  /** The rule that beats it wherever it holds; absent where it can win. */
  readonly hopeless?: string;
}

export interface ExplainedItem {
  readonly id: number;
  readonly name: string;
  readonly place: string;
  readonly words: readonly string[];
}

export interface LevelOutlook {
  /** The strongest first. */
  readonly rules: readonly RuleCounts[];
  readonly takenOff: number;
  /** Documents that lost their marking. */
  readonly lost: number;
  /** Items whose level would change, of the rule that is looked at or of all. */
  readonly changes: number;
  readonly raisedFrom: readonly { readonly level: string; readonly count: number }[];
  readonly bySource: readonly { readonly id: string; readonly name: string; readonly count: number }[];
  /** Of those that change, how many carry the marking themselves, and formats that cannot. */
  readonly stamped: number;
  readonly noted: readonly { readonly format: string; readonly count: number }[];
  readonly sample: readonly ExplainedItem[];
}

const SAMPLE = 3;

/** What would happen if a rule as its draft stands were in force now, beside those that are; or what those in force have still to do. */
export async function levelOutlook(
  ctx: Context,
  account: Pick<Account, 'scope'>,
  looked?: string,
): Promise<LevelOutlook> {
  const sources = account.scope?.['source'] ?? null;
  const weighed = await weighing(ctx, looked);
  const [{ sets, presents, plan }, declined] = await Promise.all([
    weighSets(ctx, weighed, sources),
    declinedItems(ctx.store, weighed.rules),
  ]);
  const proposals = levelProposals(sets, plan, presents, weighed.ranks, declined);
  const mine = plan.rules.filter((o) => looked === undefined || o.rule.id === looked);
  const changes =
    looked === undefined
      ? changedBy(plan)
      : Bitmap.union([
          ...mine.flatMap((o) => [o.set, o.raised, o.lowered]),
          ...proposals.filter((p) => p.rule.id === looked).map((p) => p.items),
        ]);
  const about = { today: weighed.today, sources, lens: EVERYTHING };
  const [figures, levels, rows, names, lost] = await Promise.all([
    askLens(ctx, { ...about, only: changes.toBytes(), ask: { what: 'figures' } }),
    askLens(ctx, {
      ...about,
      only: Bitmap.union(mine.map((o) => o.raised)).toBytes(),
      ask: { what: 'levels' },
    }),
    itemRows(ctx.store, (changes.size > 0 ? changes : Bitmap.union(mine.map((o) => o.wins))).first(SAMPLE)),
    itemNames(ctx.store),
    lostCount(ctx.store, account),
  ]);
  const hopeless = hopelessRules(
    weighed.rules.map((r) => ({ id: r.id, level: r.level, lens: r.lens, proposes: r.how === 'propose' })),
    weighed.ranks,
  );
  const raisedFrom = new Map<string, number>();
  for (const l of levels)
    raisedFrom.set(l.level, (raisedFrom.get(l.level) ?? 0) + Bitmap.fromBytes(l.items).size);
  return {
    rules: [
      ...plan.rules.map((o) => countsOf(o, weighed, hopeless)),
      ...proposals.map(({ rule, items }) => {
        const held = sets.find((s) => s.rule === rule)?.items.size ?? 0;
        const none = Bitmap.EMPTY;
        return {
          ...countsOf(
            { rule, wins: none, beaten: none, set: none, raised: none, lowered: none, stands: none },
            weighed,
            hopeless,
          ),
          holds: held,
          asks: true,
          proposed: items.size,
        };
      }),
    ],
    takenOff: looked === undefined ? plan.takenOff.size : 0,
    lost: looked === undefined ? lost : 0,
    changes: changes.size,
    raisedFrom: [...raisedFrom].map(([level, count]) => ({ level: weighed.names.level(level), count })),
    bySource: figures.sources.map(({ value, count }) => ({
      id: value,
      name: names.sources.get(value) ?? value,
      count,
    })),
    stamped: figures.formats.filter((f) => STAMPED_FORMATS.has(f.value)).reduce((n, f) => n + f.count, 0),
    noted: figures.formats
      .filter((f) => !STAMPED_FORMATS.has(f.value))
      .map((f) => ({ format: f.value, count: f.count })),
    sample: [...rows.values()].map((item) => explainItem(item, weighed, names.sources)),
  };
}

async function lostCount(store: Queries, account: Pick<Account, 'scope'>): Promise<number> {
  const where = keepToScope(new Where().and('l.lost = ?', 1), account, 'source', 'i.source_id');
  const row = await store.one(
    z.object({ n: Count }),
    `SELECT COUNT(*) AS n FROM item_level l JOIN item i ON i.id = l.item_id WHERE ${where.sql} AND i.state <> 'gone'`,
    where.params,
  );
  return row?.n ?? 0;
}

function countsOf(
  o: RuleOutcome,
  { names }: Weighing,
  hopeless: ReturnType<typeof hopelessRules>,
): RuleCounts {
  const by = hopeless.find((h) => h.rule === o.rule.id)?.beatenBy;
  return {
    id: o.rule.id,
    name: names.rule(o.rule.id),
    level: names.level(o.rule.level),
    holds: o.wins.size + o.beaten.size,
    set: o.set.size,
    raised: o.raised.size,
    lowered: o.lowered.size,
    stands: o.stands.size,
    beaten: o.beaten.size,
    asks: false,
    proposed: 0,
    ...(by === undefined ? {} : { hopeless: names.rule(by) }),
  };
}

export function explainItem(
  item: ItemRow,
  weighed: Weighing,
  sources: ReadonlyMap<string, string>,
): ExplainedItem {
  const { verdict, present } = verdictOn(item, weighed);
  const asked = proposalOn(item, weighed);
  return {
    id: item.id,
    name: item.name,
    place: [sources.get(item.source) ?? item.source, ...item.place.split('/').filter(Boolean)].join(' › '),
    words: [
      ...verdictWords(verdict, present, weighed.names),
      ...(asked
        ? [
            `“${weighed.names.rule(asked.rule.id)}” asks its owner for ${weighed.names.level(asked.rule.level)}, because ${weighed.names.condition(asked.rule.id)}.`,
          ]
        : []),
    ],
  };
}
