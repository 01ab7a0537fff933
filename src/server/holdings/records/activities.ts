import { z } from 'zod';
import { ActivityContent } from '../../../core/holdings/records/activity.ts';
import type { RecordNames } from '../../../core/holdings/records/activity-table.ts';
import { ACTIVITY_LIST } from '../../../core/holdings/records/activity-list.ts';
import type { Context } from '../../context.ts';
import { listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { BigId, JsonColumn } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { itemNames } from '../items/item-names.ts';

const TABLE: NamedTable<ActivityContent> = {
  table: 'activity',
  object: 'activity',
  content: ActivityContent,
};

/** Records of processing. */
export const ACTIVITY: PlainKind<ActivityContent> = {
  object: 'activity',
  content: ActivityContent,
  async vocabulary(store) {
    const { detectors, systems } = await recordNames(store);
    return {
      path: ([first]) => FIELD_WORDS[first as keyof ActivityContent],
      value: (value, [first]) => {
        if (value === '') return 'nothing';
        if (first === 'data') return detectors.get(String(value));
        return first === 'systems' ? systems.get(String(value)) : undefined;
      },
    };
  },
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  write: (tx, key, content, _before, now) => writeNamed(tx, TABLE, key, content, now),
};

const FIELD_WORDS: Readonly<Record<keyof ActivityContent, string>> = {
  name: 'The name',
  role: 'The role',
  purpose: 'The purpose',
  basis: 'The legal basis',
  special: 'The reason of Art. 9',
  offences: 'The law on offences',
  people: 'Whose data it is',
  data: 'The kinds of data',
  recipients: 'Who is given it',
  retention: 'How long it is kept',
  measures: 'How it is protected',
  systems: 'The systems',
  owner: 'Who answers for it',
  review: 'The next review',
};

/** What records name, as it is called now. */
export async function recordNames(store: Queries): Promise<RecordNames> {
  const [{ detectors }, systems] = [
    await itemNames(store),
    await store.all(z.object({ id: BigId, name: z.string() }), 'SELECT id, name FROM data_system'),
  ];
  return { detectors, systems: new Map(systems.map((s) => [s.id, s.name])) };
}

/** Throws a RefusedError (409) for a name that is taken. */
export function addActivity(
  tx: Queries,
  now: Date,
  by: number | null,
  content: ActivityContent,
): Promise<number> {
  return addNamed(tx, TABLE, now, by, content);
}

const Row = z.object({ id: BigId, content: JsonColumn(ActivityContent) });
export type StoredActivity = z.infer<typeof Row>;

/** All of them: an organisation has some dozens, or a few hundred. */
export function allActivities(store: Queries): Promise<readonly StoredActivity[]> {
  return store.all(Row, 'SELECT id, content FROM activity ORDER BY name LIMIT 5000');
}

const LISTED: ListSource<StoredActivity> = {
  list: ACTIVITY_LIST,
  select: 'a.id, a.content',
  from: 'activity a',
  row: Row as unknown as z.ZodType<StoredActivity>,
  id: 'a.id',
  sorts: { name: 'a.name' },
  search: ['a.name'],
  filters: {},
};

export async function listActivities(
  { store }: Context,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<
  Page<{ readonly id: string; readonly name: string; readonly purpose: string }> & { total?: number }
> {
  const page = await listRegister(store, LISTED, wish, { after, size });
  return {
    ...page,
    rows: page.rows.map(({ id, content }) => ({ id, name: content.name, purpose: content.purpose })),
  };
}
