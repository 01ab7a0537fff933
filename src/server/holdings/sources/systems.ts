import { z } from 'zod';
import { SYSTEM_LIST } from '../../../core/holdings/sources/source-list.ts';
import { SystemContent } from '../../../core/holdings/sources/source.ts';
import { accountNames } from '../../accounts/account-names.ts';
import type { Context } from '../../context.ts';
import { listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { Count, JsonColumn } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';

const TABLE: NamedTable<SystemContent> = { table: 'data_system', object: 'system', content: SystemContent };

/** Systems of the organisation. */
export const SYSTEM: PlainKind<SystemContent> = {
  object: 'system',
  content: SystemContent,
  async vocabulary(store) {
    const people = await accountNames(store);
    return {
      path: ([first]) => FIELD_WORDS[first as keyof SystemContent],
      value: (value, [first]) =>
        first === 'steward'
          ? value === null
            ? 'nobody'
            : (people.get(Number(value)) ?? 'somebody who left')
          : value === ''
            ? 'nothing'
            : undefined,
    };
  },
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  write: (tx, key, content, _before, now) => writeNamed(tx, TABLE, key, content, now),
};

const FIELD_WORDS: Readonly<Record<keyof SystemContent, string>> = {
  name: 'The name',
  about: 'What it is for',
  owner: 'The owner',
  steward: 'The steward',
  country: 'Where it stands',
  vendors: 'The vendors',
  notes: 'The notes',
};

/** Takes in a system. Throws a RefusedError (409) for a name that is taken. */
export function addSystem(
  tx: Queries,
  now: Date,
  by: number | null,
  content: SystemContent,
): Promise<number> {
  return addNamed(tx, TABLE, now, by, content);
}

const ListedRow = z
  .object({
    id: z.number(),
    name: z.string(),
    content: JsonColumn(SystemContent),
    sources: Count,
    steward: z.string().nullable(),
  })
  .transform(({ content, ...row }) => ({
    ...row,
    owner: content.owner,
    country: content.country,
    about: content.about,
  }));
export type ListedSystem = z.infer<typeof ListedRow>;

const SOURCE: ListSource<ListedSystem> = {
  list: SYSTEM_LIST,
  select: `s.id, s.name, s.content, (SELECT COUNT(*) FROM source o WHERE o.system_id = s.id) AS sources,
    (SELECT a.name FROM account a WHERE a.id = JSON_VALUE(s.content, '$.steward')) AS steward`,
  from: 'data_system s',
  row: ListedRow as unknown as z.ZodType<ListedSystem>,
  id: 's.id',
  sorts: { name: 's.name' },
  search: ['s.name'],
  filters: {},
};

export async function listSystems(
  { store }: Context,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedSystem> & { total?: number }> {
  return listRegister(store, SOURCE, wish, { after, size });
}

/** Of all systems, by their number. */
export async function systemNames(store: Queries): Promise<ReadonlyMap<number, string>> {
  const rows = await store.all(
    z.object({ id: z.number(), name: z.string() }),
    'SELECT id, name FROM data_system ORDER BY name',
  );
  return new Map(rows.map((r) => [r.id, r.name]));
}

/** Accounts that are in use. */
export function listStewards(
  store: Queries,
): Promise<readonly { readonly id: number; readonly name: string; readonly title: string }[]> {
  return store.all(
    z.object({ id: z.number(), name: z.string(), title: z.string() }),
    'SELECT id, name, title FROM account ORDER BY name LIMIT 1000',
  );
}
