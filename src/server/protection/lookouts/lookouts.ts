import { z } from 'zod';
import { itemVocabulary } from '../../../core/holdings/offers.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import { BUILT_IN, isBuiltIn } from '../../../core/protection/lookouts/built-in.ts';
import type { WatchedActs } from '../../../core/protection/lookouts/lookout.ts';
import type { WatchNames } from '../../../core/protection/lookouts/watch-lines.ts';
import { LookoutContent, WholeLookout } from '../../../core/protection/lookouts/lookout-content.ts';
import {
  lookoutSentence,
  lookoutVocabulary,
  type LookoutNames,
} from '../../../core/protection/lookouts/lookout-sentence.ts';
import { RefusedError, type Refusal } from '../../../core/refusal.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import { accountOptions } from '../../accounts/account-names.ts';
import { groupOptions, missingGroups } from '../../accounts/staff/group-options.ts';
import { nesting } from '../../accounts/staff/staff.ts';
import type { Context } from '../../context.ts';
import { ledgerActions, record } from '../../evidence/ledger.ts';
import { itemNames } from '../../holdings/offers.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { addNumberedRule, insertRule, listRules, readRule } from '../../rules/rule-store.ts';
import { moveRule } from '../../rules/rule-moves.ts';
import { standingRules, type StandingRule } from '../../rules/rules-in-force.ts';
import { Count, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { withoutAddresses } from '../handling/handling-rules.ts';
import { listHooks } from './hooks.ts';

/** What watches activity; those that ship by a name of their own, the others by number. */
export const LOOKOUT: RuleKind<LookoutContent> = {
  object: 'lookout',
  content: WholeLookout,
  draft: LookoutContent,
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/protection/lookouts/${encodeURIComponent(String(id))}`,
  text: async (store, _id, content) =>
    sentenceText(lookoutSentence(content, await lookoutNames(store)), content),
  vocabulary: async (store) => lookoutVocabulary(await lookoutNames(store)),
  // Addresses of people are personal; the ledger tells that they were changed.
  redact: withoutAddresses,
  removed(_tx, id) {
    if (isBuiltIn(id))
      throw new RefusedError(
        'This lookout ships with the desk. It can be switched off, not removed.',
        [],
        409,
      );
    return Promise.resolve();
  },
  async blocks(store, _id, { watch, tell }) {
    const faults = await watchFaults(store, watch);
    const hooks = new Set((await listHooks(store)).map((h) => String(h.id)));
    if (tell.hooks.some((h) => !hooks.has(h)))
      faults.push({ field: 'tell.hooks', message: 'A webhook that it names is gone.' });
    return faults;
  },
};

/** What watched acts name that is gone. */
export async function watchFaults(store: Queries, watch: WatchedActs): Promise<Refusal['fields'][number][]> {
  const faults: Refusal['fields'][number][] = lensFaults(
    watch.lens,
    itemVocabulary(await itemNames(store)),
  ).map((f) => ({ field: 'watch.lens', message: f.words }));
  const groups = await nesting(store);
  for (const field of ['who', 'but'] as const)
    faults.push(...missingGroups(groups, `watch.${field}`, watch[field]));
  return faults;
}

/** What can be named of watched acts. */
export async function watchNames(store: Queries): Promise<WatchNames> {
  const [items, groups, actions] = await Promise.all([
    itemNames(store),
    nesting(store),
    ledgerActions(store),
  ]);
  const known = new Set([...actions, ...Object.values(BUILT_IN).flatMap((b) => b.watch.changes)]);
  return {
    items: itemVocabulary(items),
    people: groupOptions(groups),
    changes: [...known].toSorted().map((value) => ({ value, words: changeWords(value) })),
  };
}

export async function lookoutNames(store: Queries): Promise<LookoutNames> {
  const [watched, hooks, accounts] = await Promise.all([
    watchNames(store),
    listHooks(store),
    accountOptions(store),
  ]);
  return {
    ...watched,
    hooks: hooks.map((h) => ({ value: String(h.id), words: h.name, detail: h.url })),
    accounts,
  };
}

/** `handling rule.put-in-force` as “handling rule: put in force”. */
function changeWords(action: string): string {
  const [object = '', act = ''] = action.replaceAll('-', ' ').split('.');
  return `${object}: ${act}`;
}

/** One as it watches. */
export type StandingLookout = StandingRule<LookoutContent>;

/** Those in force; of one under rehearsal, what was in force before it. */
export function lookoutsInForce(store: Queries): Promise<readonly StandingLookout[]> {
  return standingRules(store, LOOKOUT);
}

export interface ListedLookout {
  readonly id: string;
  readonly name: string;
  readonly stage: Stage;
  readonly severity: LookoutContent['severity'];
  readonly category: LookoutContent['category'];
  readonly builtIn: boolean;
  readonly open: number;
  /** In the last 30 days; those set aside since included. */
  readonly raised: number;
  readonly setAside: number;
}

/** By name, with what they raised in the last 30 days. */
export async function listLookouts({ store, now }: Context): Promise<readonly ListedLookout[]> {
  const [rules, counts] = await Promise.all([
    listRules(store, LOOKOUT),
    store.all(
      z.object({ lookout: z.string(), raised: Count, aside: Count, open: Count }),
      `SELECT lookout, SUM(raised_at >= ?) AS raised, SUM(raised_at >= ? AND state = 'set aside') AS aside,
         SUM(state IN ('new', 'looked into')) AS open FROM alert
       WHERE by_kind = 'lookout' AND (last_at >= ? OR state IN ('new', 'looked into')) GROUP BY lookout`,
      Array<string>(3).fill(toDatetime(new Date(now().getTime() - 30 * 86_400_000))),
    ),
  ]);
  const by = new Map(counts.map((c) => [c.lookout, c]));
  return rules.map(({ id, name, stage, content: { severity, category } }) => ({
    ...{ id, name, stage, severity, category, builtIn: isBuiltIn(id) },
    ...{ raised: by.get(id)?.raised ?? 0, setAside: by.get(id)?.aside ?? 0, open: by.get(id)?.open ?? 0 },
  }));
}

/** Adds one as a draft; its id. */
export function addLookout(
  tx: Queries,
  now: Date,
  by: number | null,
  content: LookoutContent,
): Promise<string> {
  return addNumberedRule(tx, now, LOOKOUT, by, content);
}

/** Sees to it that those that ship are there, as drafts that one act switches on. */
export async function addBuiltIn(ctx: Context): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const there = new Set((await listRules(tx, LOOKOUT)).map((r) => r.id));
    for (const [id, content] of Object.entries(BUILT_IN)) {
      if (there.has(id)) continue;
      await insertRule(tx, ctx.now(), LOOKOUT, id, content, null);
      await record(tx, ctx.now(), {
        ...{ actor: 'system', action: 'lookout.add', object: 'lookout', objectId: id },
        detail: { name: content.name },
      });
    }
  });
}

export const MANY_ACTS = ['put in force', 'pause', 'resume', 'retire', 'reopen'] as const;
export type ManyAct = (typeof MANY_ACTS)[number];

/** Moves many at once, each by itself; what became of each that could not be. */
export async function moveLookouts(
  ctx: Context,
  account: number,
  ids: readonly string[],
  act: ManyAct,
): Promise<{ readonly moved: number; readonly refused: readonly { id: string; why: string }[] }> {
  const refused: { id: string; why: string }[] = [];
  for (const id of ids)
    try {
      await ctx.store.transaction(async (tx) => {
        const { revision } = await readRule(tx, LOOKOUT, id);
        await moveRule(tx, ctx.now(), LOOKOUT, account, id, act, revision);
      });
    } catch (error) {
      if (!(error instanceof RefusedError)) throw error;
      refused.push({ id, why: error.message });
    }
  return { moved: ids.length - refused.length, refused };
}
