import { z } from 'zod';
import { SYSTEM_LIST } from '../../../core/holdings/sources/source-list.ts';
import { SystemContent } from '../../../core/holdings/sources/source.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { listCount, listPage, type ListSource, type WishInput } from '../../lists/list-source.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { Count, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import { isDuplicate, type Queries } from '../../store/pool.ts';

const ContentRow = z.object({ content: JsonColumn(SystemContent) });

/** Systems of the organisation. */
export const SYSTEM: PlainKind<SystemContent> = {
  object: 'system',
  content: SystemContent,
  async vocabulary(store) {
    const people = await store.all(
      z.object({ id: z.number(), name: z.string() }),
      'SELECT id, name FROM account',
    );
    return {
      path: ([first]) => FIELD_WORDS[first as keyof SystemContent],
      value: (value, [first]) =>
        first === 'steward'
          ? value === null
            ? 'nobody'
            : (people.find((p) => p.id === value)?.name ?? 'somebody who left')
          : value === ''
            ? 'nothing'
            : undefined,
    };
  },
  async read(store, key, lock = false) {
    const row = await store.one(
      ContentRow,
      `SELECT content FROM data_system WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
      [key],
    );
    if (!row) throw notFound('system');
    return row.content;
  },
  async write(tx, key, content) {
    await refuseTakenName('system', () =>
      tx.run('UPDATE data_system SET name = ?, content = ? WHERE id = ?', [
        content.name,
        JSON.stringify(content),
        key,
      ]),
    );
  },
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

/** Throws a RefusedError naming the field for a name that another has. */
export async function refuseTakenName<T>(what: string, work: () => Promise<T>): Promise<T> {
  try {
    return await work();
  } catch (error) {
    if (!isDuplicate(error)) throw error;
    throw new RefusedError(
      `Another ${what} is called so.`,
      [{ field: 'name', message: 'Give it another name.' }],
      409,
    );
  }
}

/** Takes in a system. Throws a RefusedError (409) for a name that is taken. */
export async function addSystem(
  tx: Queries,
  now: Date,
  by: number | null,
  content: SystemContent,
): Promise<number> {
  const { id } = await refuseTakenName('system', () =>
    tx.run('INSERT INTO data_system (name, content, created_at) VALUES (?, ?, ?)', [
      content.name,
      JSON.stringify(content),
      toDatetime(now),
    ]),
  );
  await record(tx, now, {
    actor: by ?? 'system',
    action: 'system.add',
    object: 'system',
    objectId: id,
    detail: { name: content.name },
  });
  return id;
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
  const page = await listPage(store, SOURCE, wish, { after, size });
  return after === undefined ? { ...page, total: await listCount(store, SOURCE, wish) } : page;
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
