import type { OwnDetector } from '../../src/core/holdings/detection/detector/own-detector.ts';
import type { Act, Stage } from '../../src/core/rules/rule.ts';
import type { Context } from '../../src/server/context.ts';
import { DETECTOR } from '../../src/server/holdings/detection/detectors/own-detectors.ts';
import type { Edit } from '../../src/server/rules/edit-conflict.ts';
import { editRule } from '../../src/server/rules/rule-edits.ts';
import { moveRule } from '../../src/server/rules/rule-moves.ts';

/** What the endpoints of rules do, to a detector. */
export function moveDetector(
  ctx: Context,
  by: number,
  id: string,
  act: Act['act'],
  revision: number,
): Promise<Stage> {
  return ctx.store.transaction((tx) => moveRule(tx, ctx.now(), DETECTOR, by, id, act, revision));
}

export function saveDetectorDraft(
  ctx: Context,
  by: number,
  id: string,
  edit: Edit<OwnDetector>,
): Promise<{ revision: number }> {
  return editRule(ctx, DETECTOR, by, id, edit);
}
