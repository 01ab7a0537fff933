import { z } from 'zod';
import { KeptLens } from '../../../core/holdings/lenses/kept-lens.ts';
import { itemVocabulary } from '../../../core/holdings/items/item-facts.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import { lensText } from '../../../core/lens/lens-text.ts';
import { lensWords } from '../../../core/lens/lens-words.ts';
import type { Account } from '../../../core/accounts/authority.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { countInLens } from '../items/explorer.ts';
import { itemNames } from '../items/item-names.ts';
import { refuseTakenName } from '../sources/systems.ts';

/** Lenses that were kept under a name. */
export const LENS: PlainKind<KeptLens> = {
  object: 'lens',
  content: KeptLens,
  async vocabulary(store) {
    const vocabulary = itemVocabulary(await itemNames(store));
    return {
      path: ([first]) => (first === 'name' ? 'The name' : 'The lens'),
      value: (value, [first]) =>
        first === 'lens' && typeof value === 'object'
          ? lensWords(KeptLens.shape.lens.parse(value), vocabulary) || 'everything'
          : undefined,
    };
  },
  async read(store, key, lock = false) {
    const row = await store.one(
      z.object({ content: JsonColumn(KeptLens) }),
      `SELECT content FROM lens WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
      [key],
    );
    if (!row) throw notFound('lens');
    return row.content;
  },
  async write(tx, key, content) {
    await refuseTakenName('lens', () =>
      tx.run('UPDATE lens SET name = ?, content = ? WHERE id = ?', [
        content.name,
        JSON.stringify(content),
        key,
      ]),
    );
  },
};

export async function addLens(tx: Queries, now: Date, by: number | null, content: KeptLens): Promise<number> {
  const { id } = await refuseTakenName('lens', () =>
    tx.run('INSERT INTO lens (name, content, created_by, created_at) VALUES (?, ?, ?, ?)', [
      content.name,
      JSON.stringify(content),
      by,
      toDatetime(now),
    ]),
  );
  await record(tx, now, {
    actor: by ?? 'system',
    action: 'lens.add',
    object: 'lens',
    objectId: id,
    detail: { name: content.name },
  });
  return id;
}

/** Throws a RefusedError (404). */
export async function removeLens(tx: Queries, now: Date, by: number, id: number): Promise<void> {
  const { name } = await LENS.read(tx, id, true);
  await tx.run('DELETE FROM lens WHERE id = ?', [id]);
  await record(tx, now, { actor: by, action: 'lens.remove', object: 'lens', objectId: id, detail: { name } });
}

export interface ListedLens {
  readonly id: number;
  readonly name: string;
  /** As an address has it. */
  readonly line: string;
  readonly items: number;
  /** It names something that is gone, and matches nothing. */
  readonly faulty: boolean;
}

/** A page of them is all there are; more than that nobody reads in a register. */
const MOST = 200;

export async function listLenses(ctx: Context, account: Account): Promise<readonly ListedLens[]> {
  const rows = await ctx.store.all(
    z.object({ id: z.number(), content: JsonColumn(KeptLens) }),
    'SELECT id, content FROM lens ORDER BY name LIMIT ?',
    [MOST],
  );
  const vocabulary = itemVocabulary(await itemNames(ctx.store));
  return Promise.all(
    rows.map(async ({ id, content }) => {
      const line = lensText(content.lens);
      return {
        id,
        name: content.name,
        line,
        items: await countInLens(ctx, account, line),
        faulty: lensFaults(content.lens, vocabulary).length > 0,
      };
    }),
  );
}
