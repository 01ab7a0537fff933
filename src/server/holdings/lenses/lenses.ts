import { z } from 'zod';
import { KeptLens } from '../../../core/holdings/lenses/kept-lens.ts';
import { itemVocabulary } from '../../../core/holdings/items/item-facts.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import { lensText } from '../../../core/lens/lens-text.ts';
import { lensWords } from '../../../core/lens/lens-words.ts';
import type { Account } from '../../../core/accounts/authority.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { countItems } from '../items/explorer.ts';
import { itemNames } from '../items/item-names.ts';

const TABLE: NamedTable<KeptLens> = { table: 'lens', object: 'lens', content: KeptLens };

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
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  write: (tx, key, content, _before, now) => writeNamed(tx, TABLE, key, content, now),
};

export function addLens(tx: Queries, now: Date, by: number | null, content: KeptLens): Promise<number> {
  return addNamed(tx, TABLE, now, by, content);
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
    rows.map(async ({ id, content: { name, lens } }) => {
      const faulty = lensFaults(lens, vocabulary).length > 0;
      return {
        id,
        name,
        line: lensText(lens),
        items: faulty ? 0 : await countItems(ctx, account, lens),
        faulty,
      };
    }),
  );
}
