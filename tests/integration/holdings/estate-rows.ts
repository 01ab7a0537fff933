import { USUAL_SOURCE } from '../../../src/core/holdings/sources/source.ts';
import type { Context } from '../../../src/server/context.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { hash16 } from '../../../src/server/holdings/items/item-hash.ts';
import { unique } from '../context.ts';

/** A source that nobody ever reads. */
export function testSource(ctx: Context, name = unique('share')): Promise<number> {
  return ctx.store.transaction((tx) =>
    insertSource(tx, ctx, null, {
      content: { ...USUAL_SOURCE, name },
      address: { kind: 'folder', root: '/nowhere' },
      secret: '',
    }),
  );
}

/** An item of a source, as a survey would have left it. */
export async function testItem(ctx: Context, source: number, path = ''): Promise<number> {
  const name = unique('item');
  await ctx.store.run('INSERT IGNORE INTO place (source_id, hash, path) VALUES (?, ?, ?)', [
    source,
    hash16(path),
    path,
  ]);
  const { id } = await ctx.store.run(
    `INSERT INTO item (source_id, place_id, name_hash, name, size, version, state)
     SELECT ?, p.id, ?, ?, 10, '1', 'read' FROM place p WHERE p.source_id = ? AND p.path = ?`,
    [source, hash16(name), name, source, path],
  );
  return id;
}
