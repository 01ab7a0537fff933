import type { Exposure } from '../../../core/access/breadth/breadth.ts';
import type { Context } from '../../context.ts';
import { askAccess } from '../index/ask-access.ts';
import type { ChangeWish, RehearsalView } from '../index/change-answers.ts';
import { exposureOf } from './view-change.ts';

export interface RehearsedWish extends RehearsalView {
  readonly name: string;
  readonly exposure: Readonly<Record<string, Exposure>>;
}

/** What would follow from what is wanted. Throws a RefusedError where there is nothing to change. */
export async function rehearseWish(ctx: Context, wish: ChangeWish): Promise<RehearsedWish> {
  const { name, steps } = await askAccess(ctx, 'compose', { wish });
  const rehearsal = await askAccess(ctx, 'rehearse', { steps });
  return { ...rehearsal, name, exposure: await exposureOf(ctx, rehearsal) };
}
