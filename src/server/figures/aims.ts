import { z } from 'zod';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { Count } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

/** What the organisation wants of a figure, and who looks after it. */
export interface Aim {
  /** Of what is told: a share is in [0, 1]. */
  readonly target: number | null;
  readonly owner: { readonly id: number; readonly name: string } | null;
}

export const NO_AIM: Aim = { target: null, owner: null };

export async function readAims(store: Queries): Promise<ReadonlyMap<string, Aim>> {
  const rows = await store.all(
    z.object({
      figure: z.string(),
      target: z.number().nullable(),
      owner: Count.nullable(),
      name: z.string().nullable(),
    }),
    'SELECT f.figure, f.target, f.owner, a.name FROM figure_aim f LEFT JOIN account a ON a.id = f.owner',
  );
  return new Map(
    rows.map((r) => [
      r.figure,
      { target: r.target, owner: r.owner === null ? null : { id: r.owner, name: r.name ?? '' } },
    ]),
  );
}

export async function setAim(
  ctx: Context,
  by: number,
  figure: string,
  { target, owner }: { readonly target: number | null; readonly owner: number | null },
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    await tx.run('REPLACE INTO figure_aim (figure, target, owner) VALUES (?, ?, ?)', [figure, target, owner]);
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'figure.aim', object: 'figure', objectId: figure, detail: { target, owner } },
    });
  });
}
