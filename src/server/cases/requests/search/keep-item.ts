import { createHash } from 'node:crypto';
import { z } from 'zod';
import type { Context } from '../../../context.ts';
import { Bytes, toDatetime } from '../../../store/columns.ts';
import { keyedHash, sealJson } from '../request-row.ts';
import type { LookedThrough } from './look-through.ts';

export const ORIGINS = ['item', 'linked rows', 'preferences', 'choices'] as const;

/** Something held of the person, or something that could not be looked through. */
export interface FoundItem {
  readonly origin: (typeof ORIGINS)[number];
  /** What tells it from others of the request. */
  readonly key: string;
  readonly source: number | null;
  readonly system: number | null;
  readonly item: number | null;
  readonly path: string;
  readonly name: string;
  readonly title: string;
  readonly changed: string | null;
  readonly looked: LookedThrough | undefined;
  readonly hash: Buffer | null;
  readonly problem: string;
}

/** What an item of a request is known by. */
export const itemKey = (key: string): Buffer => createHash('sha256').update(key).digest().subarray(0, 16);

/** Puts something found into the case. What a person decided about it stands as long as its bytes are the same. */
export async function keepItem(ctx: Context, request: number, f: FoundItem): Promise<void> {
  const { looked } = f;
  const bearer = looked?.bearer ?? '';
  const isClear =
    looked !== undefined && looked.reading.covers.length === 0 && looked.reading.doubts.length === 0;
  const values = {
    ...{
      source_id: f.source,
      system_id: f.system,
      item_id: f.item,
      path: f.path,
      name: f.name.slice(0, 400),
    },
    ...{
      title: f.title.slice(0, 400),
      changed_at: f.changed === null ? null : toDatetime(f.changed),
      hash: f.hash,
    },
    ...{ format: (looked?.format ?? '').slice(0, 20), found_by: (looked?.by ?? []).join(',') },
    ...{
      sure: looked?.sure ?? 'ask',
      bearer_hash: bearer === '' ? Buffer.alloc(16) : keyedHash(ctx, 'bearer', bearer),
    },
    ...{ reading: looked ? sealJson(ctx, looked.reading) : null, problem: f.problem.slice(0, 500) },
    ...{ covers: looked?.reading.covers.length ?? 0, doubts: looked?.reading.doubts.length ?? 0 },
    ...{
      people: looked?.people ?? 0,
      rows_theirs: looked?.rowsTheirs ?? 0,
      rows_left: looked?.rowsLeft ?? 0,
    },
  };
  const names = Object.keys(values);
  await ctx.store.transaction(async (tx) => {
    const key = itemKey(f.key);
    const before = await tx.one(
      z.object({
        id: z.coerce.string(),
        hash: Bytes.nullable(),
        looked_by: z.number().nullable(),
        theirs: z.string(),
      }),
      'SELECT id, hash, looked_by, theirs FROM request_item WHERE request_id = ? AND item_key = ? FOR UPDATE',
      [request, key],
    );
    const same = before?.hash && f.hash && before.hash.equals(f.hash);
    if (before && same && before.looked_by !== null) return;
    const theirs = looked
      ? looked.sure === 'certain'
        ? 'yes'
        : before?.looked_by != null
          ? before.theirs
          : 'ask'
      : 'ask';
    const state = looked ? (isClear ? 'right' : 'to look over') : 'unreadable';
    if (before)
      await tx.run(
        `UPDATE request_item SET ${names.map((n) => `${n} = ?`).join(', ')}, theirs = ?, state = ?, looked_by = NULL, looked_at = NULL, version = version + 1 WHERE id = ?`,
        [...Object.values(values), theirs, state, before.id],
      );
    else
      await tx.run(
        `INSERT INTO request_item (request_id, origin, item_key, theirs, state, ${names.join(', ')}) VALUES (?)`,
        [[request, f.origin, key, theirs, state, ...Object.values(values)]],
      );
  });
}
