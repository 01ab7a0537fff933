import { z } from 'zod';
import type { GroupKind } from '../../../core/protection/handling/channel.ts';
import { MEMBER_WORDS, NamedGroup } from '../../../core/protection/handling/named-group.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { readSentCsv } from '../../files/sent-csv.ts';
import { addNamed, readNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import { editObject, readObject, type PlainKind } from '../../rules/plain-object.ts';
import { JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const TABLE: NamedTable<NamedGroup> = {
  table: 'named_group',
  object: 'named group',
  content: NamedGroup,
  columns: ({ kind }) => ({ kind }),
};

/** Things of one kind that handling rules name together. It takes effect as it is saved. */
export const NAMED_GROUP: PlainKind<NamedGroup> = {
  object: 'named group',
  content: NamedGroup,
  vocabulary: () =>
    Promise.resolve({
      path: ([first]) => WORDS[first as keyof NamedGroup],
      value: (value, [first]) =>
        first === 'ours'
          ? value === true
            ? 'ours'
            : 'not ours'
          : Array.isArray(value)
            ? value.join(', ')
            : undefined,
    }),
  read: (store, key, lock) => readNamed(store, TABLE, key, lock),
  async write(tx, key, content, before, now) {
    if (content.kind !== before.kind)
      throw new RefusedError('What a group is of stays as it is.', [
        { field: 'kind', message: 'Make another group.' },
      ]);
    await writeNamed(tx, TABLE, key, content, now);
  },
};

const WORDS: Readonly<Record<keyof NamedGroup, string>> = {
  name: 'The name',
  kind: 'What it is of',
  ours: 'Whether it is ours',
  members: 'Its members',
};

export function addNamedGroup(
  tx: Queries,
  now: Date,
  by: number | null,
  content: NamedGroup,
): Promise<number> {
  return addNamed(tx, TABLE, now, by, content);
}

export interface ListedGroup {
  readonly id: string;
  readonly name: string;
  readonly kind: GroupKind;
  readonly ours: boolean;
  readonly members: number;
}

const Row = z.object({ id: z.number(), content: JsonColumn(NamedGroup) });

/** By name. */
export async function listNamedGroups(store: Queries): Promise<readonly ListedGroup[]> {
  return (await everyNamedGroup(store)).map(([id, { name, kind, ours, members }]) => ({
    ...{ id, name, kind, ours },
    members: members.length,
  }));
}

/** All of them with their members, by their ids. */
export async function everyNamedGroup(store: Queries): Promise<readonly (readonly [string, NamedGroup])[]> {
  const rows = await store.all(Row, 'SELECT id, content FROM named_group ORDER BY name');
  return rows.map((r) => [String(r.id), r.content]);
}

const MOST_MEMBERS = 20_000;

/**
 * Takes members from a CSV with the heading `member`, in the place of those there are or beside them. Throws a
 * RefusedError that names the first rows that cannot be taken.
 */
export async function takeMembers(
  ctx: Context,
  account: number,
  id: number,
  { upload, beside }: { readonly upload: number; readonly beside: boolean },
): Promise<{ readonly members: number }> {
  const { headings, rows } = await readSentCsv(ctx, account, upload, MOST_MEMBERS, 'Make two groups of it.');
  const at = headings.findIndex((h) => h.trim().toLowerCase() === 'member');
  if (at === -1)
    throw new RefusedError('This list cannot be taken.', [
      { field: 'row 1', message: 'There is no column “member”.' },
    ]);
  const sent = rows.map((r) => (r[at] ?? '').trim()).filter(Boolean);
  return ctx.store.transaction(async (tx) => {
    const { content, revision } = await readObject(tx, NAMED_GROUP, id, true);
    const members = [...new Set([...(beside ? content.members : []), ...sent])];
    const next = NamedGroup.safeParse({ ...content, members });
    if (!next.success)
      throw new RefusedError(
        `This list cannot be taken. A member is ${MEMBER_WORDS[content.kind]}.`,
        next.error.issues.slice(0, 20).map((i) => {
          const member = members[Number(i.path[1])] ?? '';
          const row = rows.findIndex((r) => (r[at] ?? '').trim() === member);
          return { field: row < 0 ? 'members' : `row ${row + 2}`, message: i.message };
        }),
      );
    await editObject(tx, ctx.now(), NAMED_GROUP, account, id, {
      content: next.data,
      revision,
      base: content,
    });
    return { members: members.length };
  });
}
