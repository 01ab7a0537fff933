import { z } from 'zod';
import type { AuthorityObject } from '../../../../core/accounts/authority.ts';
import { DetectorId } from '../../../../core/holdings/detection/detector/detector.ts';
import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import { notFound } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';

/** The detector a request is about. */
export const DetectorInput = z.object({ id: DetectorId });

/** The detector as it is, of one's own or one that ships; throws a RefusedError (404). */
export async function detectorObject(ctx: Context, { id }: { id: string }): Promise<AuthorityObject> {
  const own = await ctx.store.one(z.object({ id: z.string() }), 'SELECT id FROM detector WHERE id = ?', [id]);
  if (!own && !builtInDetectors().some((d) => d.id === id)) throw notFound('detector');
  return { kind: 'detector', id };
}

/** The labelled set a request is about. */
export const SetInput = z.object({ set: z.coerce.number().int().positive() });

/** The labelled set as it is; throws a RefusedError (404). */
export async function setObject(ctx: Context, { set }: { set: number }): Promise<AuthorityObject> {
  const row = await ctx.store.one(z.object({ id: z.number() }), 'SELECT id FROM labelled_set WHERE id = ?', [
    set,
  ]);
  if (!row) throw notFound('labelled set');
  return { kind: 'labelled set', id: row.id };
}

/** A row’s number in a path. */
export const RowNumber = z.string().regex(/^\d{1,18}$/, 'a number');
