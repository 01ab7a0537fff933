import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import type { Context } from '../../context.ts';
import { keepToScope } from '../../accounts/scope-condition.ts';
import { askLens, itemNames } from '../../holdings/offers.ts';
import { rulesNaming } from '../../rules/rule-references.ts';
import { Count } from '../../store/columns.ts';
import { Where } from '../../store/where.ts';
import { PUBLICATION } from '../publishing/publications.ts';
import { LEVEL_RULE } from '../rules/level-rules.ts';

interface Naming {
  readonly id: string;
  readonly name: string;
  readonly stage: Stage;
}

export interface LevelFigures {
  readonly items: number;
  /** Of them, those whose document does not say so. */
  readonly unstamped: number;
  readonly byHand: number;
  readonly bySource: readonly { readonly id: string; readonly name: string; readonly count: number }[];
  readonly rules: readonly Naming[];
  readonly publications: readonly Naming[];
}

/** What has a level, of what an account may see, and which rules set it. */
export async function levelFigures(
  ctx: Context,
  account: Pick<Account, 'scope'>,
  level: string,
): Promise<LevelFigures> {
  const of = () => keepToScope(new Where().and('l.level = ?', level), account, 'source', 'i.source_id');
  const [figures, counts, names, naming] = await Promise.all([
    askLens(ctx, {
      lens: { fact: 'level', is: 'one of', values: [level] },
      today: ctx.now().toISOString().slice(0, 10),
      sources: account.scope?.['source'] ?? null,
      mayBeOld: true,
      ask: { what: 'figures' },
    }),
    ctx.store.one(
      z.object({ unstamped: Count, hand: Count }),
      `SELECT COALESCE(SUM(l.unstamped IS NOT NULL), 0) AS unstamped, COALESCE(SUM(l.set_by = 'hand'), 0) AS hand
       FROM item_level l JOIN item i ON i.id = l.item_id WHERE ${of().sql} AND i.state <> 'gone'`,
      of().params,
    ),
    itemNames(ctx.store),
    rulesNaming(ctx.store, 'level', level),
  ]);
  const ofKind = (kind: string): readonly Naming[] =>
    naming.filter((r) => r.kind === kind).map(({ id, name, stage }) => ({ id, name, stage }));
  return {
    items: figures.items,
    unstamped: counts?.unstamped ?? 0,
    byHand: counts?.hand ?? 0,
    bySource: figures.sources.map(({ value, count }) => ({
      id: value,
      name: names.sources.get(value) ?? value,
      count,
    })),
    rules: ofKind(LEVEL_RULE.object),
    publications: ofKind(PUBLICATION.object),
  };
}
