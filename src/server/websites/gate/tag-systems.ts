import { z } from 'zod';
import { TagSystem } from '../../../core/websites/gate/tag-system.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import { isDuplicate, type Queries } from '../../store/pool.ts';
import { listPurposes } from '../notices/purposes.ts';

const Row = z.object({
  id: z.number(),
  content: JsonColumn(TagSystem),
  revision: z.number(),
  edited_by: z.string().nullable(),
  edited_at: Instant,
});
export type ListedTagSystem = z.infer<typeof Row>;

/** The tag systems that the organisation mapped, told on every site with a notice. */
export function listTagSystems(store: Queries): Promise<ListedTagSystem[]> {
  return store.all(
    Row,
    'SELECT s.id, s.content, s.revision, a.name AS edited_by, s.edited_at FROM tag_system s LEFT JOIN account a ON a.id = s.edited_by ORDER BY s.name',
  );
}

/** Maps a tag system; without an `id` a new one. `revision` is what the editor saw. Throws a RefusedError (400, 404, 409). */
export async function sayTagSystem(
  ctx: Context,
  accountId: number,
  system: TagSystem,
  { id, revision }: { id?: number | undefined; revision: number },
): Promise<number> {
  return ctx.store.transaction(async (tx) => {
    const codes = (await listPurposes(tx)).map((p) => p.code);
    const unknown = Object.keys(system.names).find((code) => !codes.includes(code));
    if (unknown !== undefined)
      throw new RefusedError('This tag system cannot be mapped so.', [
        { field: 'names', message: `There is no purpose “${unknown}”.` },
      ]);
    const values = [system.name, JSON.stringify(system), accountId, toDatetime(ctx.now())];
    try {
      const saved = id === undefined ? await insert(tx, values) : await update(tx, id, revision, values);
      await record(tx, ctx.now(), {
        actor: accountId,
        action: 'tag-system.map',
        object: 'tag system',
        objectId: saved,
        detail: { ...system },
      });
      return saved;
    } catch (error) {
      if (!isDuplicate(error)) throw error;
      throw new RefusedError('This tag system is mapped already.', [
        { field: 'name', message: `Give it another name than “${system.name}”.` },
      ]);
    }
  });
}

async function insert(tx: Queries, values: (string | number | null)[]): Promise<number> {
  const { id } = await tx.run(
    'INSERT INTO tag_system (name, content, revision, edited_by, edited_at) VALUES (?, ?, 1, ?, ?)',
    values,
  );
  return id;
}

async function update(
  tx: Queries,
  id: number,
  revision: number,
  values: (string | number | null)[],
): Promise<number> {
  const there = await tx.one(
    z.object({ revision: z.number() }),
    'SELECT revision FROM tag_system WHERE id = ? FOR UPDATE',
    [id],
  );
  if (!there) throw notFound('tag system');
  if (there.revision !== revision)
    throw new RefusedError(
      'Somebody else changed this tag system meanwhile. Look at it, and change it then.',
      [],
      409,
    );
  await tx.run(
    'UPDATE tag_system SET name = ?, content = ?, revision = revision + 1, edited_by = ?, edited_at = ? WHERE id = ?',
    [...values, id],
  );
  return id;
}

/** Takes a tag system out: it is told nothing any more. Throws a RefusedError (404). */
export async function takeOutTagSystem(ctx: Context, accountId: number, id: number): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const { changed } = await tx.run('DELETE FROM tag_system WHERE id = ?', [id]);
    if (changed === 0) throw notFound('tag system');
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'tag-system.out',
      object: 'tag system',
      objectId: id,
      detail: {},
    });
  });
}
