import type { NewRequest } from '../../../core/cases/requests/request.ts';
import type { Context } from '../../context.ts';
import { FinalError } from '../../jobs/runner.ts';
import { findRequest, openRequest, type RequestRow } from './request-row.ts';

/** A request that work goes on for. Throws a FinalError once it is closed, or what it says was let go. */
export async function openRequestOf(
  ctx: Context,
  id: number,
): Promise<{ readonly row: RequestRow; readonly request: NewRequest }> {
  const row = await findRequest(ctx.store, id);
  const request = openRequest(ctx, row);
  if (!request || row.outcome !== null) throw new FinalError('The request is closed.');
  return { row, request };
}
