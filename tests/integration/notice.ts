import type { Act, Stage } from '../../src/core/rules/rule.ts';
import type { NoticeContent } from '../../src/core/websites/notice/notice.ts';
import type { Context } from '../../src/server/context.ts';
import { editRule, takeRuleBack } from '../../src/server/rules/rule-edits.ts';
import { moveRule } from '../../src/server/rules/rule-moves.ts';
import { NOTICE } from '../../src/server/websites/notices/notice-kind.ts';
import { findSite } from '../../src/server/websites/sites/sites.ts';

/** What the endpoints of rules do, to the notice of a site that is named by its host. */
export async function moveNotice(
  ctx: Context,
  by: number,
  host: string,
  act: Act['act'],
  revision: number,
): Promise<Stage> {
  const { id } = await findSite(ctx.store, host);
  return ctx.store.transaction((tx) => moveRule(tx, ctx.now(), NOTICE, by, id, act, revision));
}

export async function saveDraft(
  ctx: Context,
  by: number,
  host: string,
  revision: number,
  base: NoticeContent,
  content: NoticeContent,
): Promise<{ revision: number }> {
  return editRule(ctx, NOTICE, by, (await findSite(ctx.store, host)).id, { revision, base, content });
}

export async function takeBack(
  ctx: Context,
  by: number,
  host: string,
  version: number,
  revision: number,
): Promise<void> {
  const { id } = await findSite(ctx.store, host);
  await ctx.store.transaction((tx) => takeRuleBack(tx, ctx.now(), NOTICE, by, id, version, revision));
}
