import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { Bitmap } from '../../../core/lens/bitmap.ts';
import { EVERYTHING } from '../../../core/lens/lens.ts';
import { LevelContent, levelId, newLevel } from '../../../core/protection/levels/level-content.ts';
import { levelSentence, levelVocabulary } from '../../../core/protection/levels/level-sentence.ts';
import type { Ranks } from '../../../core/protection/rules/level-verdict.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import { versionInForce, type Stage } from '../../../core/rules/rule.ts';
import type { Context } from '../../context.ts';
import { askLens } from '../../holdings/offers.ts';
import { record } from '../../evidence/ledger.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { insertRule, listRules } from '../../rules/rule-store.ts';
import { rulesNaming } from '../../rules/rule-references.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import type { Queries } from '../../store/pool.ts';

/** A classification level, by its id. Which is stronger stands beside, for all of them at once. */
export const LEVEL: RuleKind<LevelContent> = {
  object: 'level',
  content: LevelContent,
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/protection/levels/${encodeURIComponent(String(id))}`,
  text: (_store, _id, content) => Promise.resolve(sentenceText(levelSentence(content), content)),
  vocabulary: () => Promise.resolve(levelVocabulary()),
  async removed(tx, id) {
    const [rule] = await rulesNaming(tx, 'level', String(id));
    if (rule)
      throw new RefusedError(
        `“${rule.name}” ${rule.kind === 'publication' ? 'offers' : 'sets'} it.`,
        [{ field: 'level', message: 'Have that name another level first, or remove it.' }],
        409,
      );
    await tx.run('DELETE FROM level_rank WHERE level = ?', [String(id)]);
  },
  async mayMove(tx, id, act) {
    if (act !== 'retire' && act !== 'pause') return;
    const rows = (await rulesNaming(tx, 'level', String(id))).filter(
      // Those whom it is published to are not offered it any more, and that is meant.
      (r) => r.kind === 'level rule' && (r.stage.state === 'in force' || r.stage.state === 'rehearsing'),
    );
    if (rows.length > 0)
      throw new RefusedError(
        `Rules set it: ${rows.map((r) => `“${r.name}”`).join(', ')}.`,
        [{ field: 'level', message: 'Have them set another level first, or retire them.' }],
        409,
      );
  },
};

export async function levelRanks(store: Queries): Promise<Ranks> {
  const rows = await store.all(
    z.object({ level: z.string(), strength: z.number() }),
    'SELECT level, strength FROM level_rank ORDER BY strength DESC',
  );
  return new Map(rows.map((r) => [r.level, r.strength]));
}

export interface KnownLevel {
  readonly id: string;
  readonly name: string;
  readonly colour: string;
  readonly stage: Stage;
}

/** All there are, the strongest first. */
export async function knownLevels(store: Queries): Promise<readonly KnownLevel[]> {
  const [all, ranks] = [await listRules(store, LEVEL), await levelRanks(store)];
  return all
    .map(({ id, name, content, stage }) => ({ id, name, colour: content.colour, stage }))
    .toSorted((a, b) => (ranks.get(b.id) ?? -1) - (ranks.get(a.id) ?? -1));
}

/** A level as the register lists it. */
export interface ListedLevel extends KnownLevel {
  /** Items that have it, of those that the account may see. */
  readonly items: number;
}

/** The same, with what has them. */
export async function listLevels(
  ctx: Context,
  account: Pick<Account, 'scope'>,
): Promise<readonly ListedLevel[]> {
  const [levels, sets] = await Promise.all([
    knownLevels(ctx.store),
    askLens(ctx, {
      lens: EVERYTHING,
      today: ctx.now().toISOString().slice(0, 10),
      sources: account.scope?.['source'] ?? null,
      mayBeOld: true,
      ask: { what: 'levels' },
    }),
  ]);
  const items = (id: string) =>
    sets.filter((s) => s.level === id).reduce((n, s) => n + Bitmap.fromBytes(s.items).size, 0);
  return levels.map((l) => ({ ...l, items: items(l.id) }));
}

/** Adds a level as a draft, stronger than all others. Its id. Throws a RefusedError (409) for a name that another has. */
export async function addLevel(
  tx: Queries,
  now: Date,
  by: number | null,
  content: LevelContent,
): Promise<string> {
  const taken = await listRules(tx, LEVEL);
  if (taken.some((l) => l.name.toLowerCase() === content.name.toLowerCase()))
    throw new RefusedError(
      'Another level is called so.',
      [{ field: 'name', message: 'Give it another name.' }],
      409,
    );
  const id = levelId(content.name, new Set(taken.map((l) => l.id)));
  await insertRule(tx, now, LEVEL, id, content, by);
  await tx.run(
    'INSERT INTO level_rank (level, strength) SELECT ?, COALESCE(MAX(strength), 0) + 1 FROM level_rank',
    [id],
  );
  await record(tx, now, {
    actor: by ?? 'system',
    action: 'level.add',
    object: 'level',
    objectId: id,
    detail: { name: content.name },
  });
  return id;
}

export function addNamedLevel(tx: Queries, now: Date, by: number, name: string): Promise<string> {
  return addLevel(tx, now, by, newLevel(name));
}

/** Says which levels are stronger. Throws a RefusedError (409) where these are not all there are. */
export async function orderLevels(
  tx: Queries,
  now: Date,
  by: number,
  strongestFirst: readonly string[],
): Promise<void> {
  const known = await tx.all(
    z.object({ level: z.string() }),
    'SELECT level FROM level_rank ORDER BY strength DESC FOR UPDATE',
  );
  const before = known.map((k) => k.level);
  if (before.toSorted().join() !== strongestFirst.toSorted().join())
    throw new RefusedError(
      'Somebody added or changed a level a moment ago. Look at them again first.',
      [{ field: 'levels', message: 'Name each level once.' }],
      409,
    );
  if (before.join() === strongestFirst.join()) return;
  await tx.run('DELETE FROM level_rank');
  await tx.run('INSERT INTO level_rank (level, strength) VALUES ?', [
    strongestFirst.map((level, i) => [level, strongestFirst.length - i]),
  ]);
  await record(tx, now, {
    actor: by,
    action: 'level.order',
    object: 'level',
    objectId: strongestFirst[0] ?? '',
    detail: { before, strongestFirst },
  });
}

/** What of a level takes effect; `undefined` where it is not in force. */
export async function levelInForce(
  store: Queries,
  { id, stage }: Pick<KnownLevel, 'id' | 'stage'>,
): Promise<LevelContent | undefined> {
  const version = versionInForce(stage);
  return version === undefined ? undefined : readRuleVersion(store, LEVEL, id, version);
}

/** Every level that is in force, with what of it takes effect. */
export async function levelsInForce({ store }: Context): Promise<ReadonlyMap<string, LevelContent>> {
  const all = await Promise.all(
    (await knownLevels(store)).map(async (l) => [l.id, await levelInForce(store, l)] as const),
  );
  return new Map(all.flatMap(([id, content]) => (content ? [[id, content] as const] : [])));
}
