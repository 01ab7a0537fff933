import { z } from 'zod';
import type { SweepDifference } from '../../../core/websites/sweeps/sweep-difference.ts';
import { VISITORS, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import type { Queries } from '../../store/pool.ts';
import { BigId } from '../../store/columns.ts';
import { differenceBetween } from './sweep-end.ts';
import {
  findSiteSweep,
  listSweeps,
  sweepBefore,
  troubledPages,
  type StoredPage,
  type Sweep,
} from './sweeps.ts';

export interface SweepDetail {
  readonly sweep: Sweep;
  readonly pictures: readonly Visitor[];
  readonly troubled: readonly StoredPage[];
  /** Ledger entry that seals its report; `null` while it runs. */
  readonly ledgerId: string | null;
  /** What it is compared with; `null` without an earlier one. */
  readonly against: Sweep | null;
  readonly difference: SweepDifference | null;
  /** Sweeps it can be compared with. */
  readonly others: readonly { readonly id: number; readonly at: string }[];
}

/** One sweep, with what differs from `against`, or from the one before it. */
export async function sweepDetail(
  store: Queries,
  host: string,
  id: number,
  against: number | undefined,
): Promise<SweepDetail> {
  const sweep = await findSiteSweep(store, host, id);
  const other =
    against === undefined ? await sweepBefore(store, sweep) : await findSiteSweep(store, host, against);
  const [pictures, troubled, sealed, all] = await Promise.all([
    store.all(
      z.object({ visitor: z.enum(VISITORS) }),
      'SELECT visitor FROM sweep_picture WHERE sweep_id = ?',
      [id],
    ),
    troubledPages(store, id),
    store.one(z.object({ ledger_id: BigId }), 'SELECT ledger_id FROM sweep_report WHERE sweep_id = ?', [id]),
    listSweeps(store, sweep.site_id, 100),
  ]);
  return {
    sweep,
    pictures: VISITORS.filter((v) => pictures.some((p) => p.visitor === v)),
    troubled,
    ledgerId: sealed?.ledger_id ?? null,
    against: other ?? null,
    difference: other ? await differenceBetween(store, other.id, id) : null,
    others: all
      .filter((s) => s.id !== id && s.pages > 0 && s.finished_at !== null)
      .map((s) => ({ id: s.id, at: s.started_at ?? s.created_at })),
  };
}
