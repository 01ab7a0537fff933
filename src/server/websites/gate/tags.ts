import { createHash } from 'node:crypto';
import { z } from 'zod';
import {
  NOTHING_SAID,
  TagPlan,
  tagsOf,
  type FoundTag,
  type TagKey,
} from '../../../core/websites/gate/tag.ts';
import { RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { recordAll } from '../../evidence/ledger.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { listPurposes } from '../notices/purposes.ts';
import { findSite } from '../sites/sites.ts';
import { saidTags } from './said-tags.ts';
import { listTagSystems } from './tag-systems.ts';
import { lastTags, type TagRan } from '../visits/visit-store.ts';
import { remakeGate, sortedTrackers } from './site-gate.ts';

/** A tag as the desk lists it. */
export interface ListedTag extends Omit<FoundTag, 'what'> {
  readonly what: FoundTag['what'] | 'not seen';
  readonly plan: TagPlan;
  readonly said: boolean;
  readonly byHand: boolean;
  /** What it needs, as said or as found; `null` where nobody knows; more than one where it serves several. */
  readonly needs: readonly string[];
  /** What the last visit saw of it before anybody had answered, and after a refusal. */
  readonly ran: TagRan | null;
}

/** The tags of a site, those that nobody can sort first. */
export async function listTags(store: Queries, host: string): Promise<readonly ListedTag[]> {
  const site = await findSite(store, host);
  const said = await saidTags(store, site.id);
  const found = tagsOf(await sortedTrackers(store, site));
  const ran = await lastTags(store, site.id);
  const of = (key: TagKey) => said.find((s) => s.host === key.host && s.name === key.name);
  const unseen = said.filter((s) => !found.some((f) => f.host === s.host && f.name === s.name));
  const all = [
    ...found,
    ...unseen.map(({ host: h, name }) => ({
      ...{ host: h, name, what: 'not seen' as const, placed: [], pages: 0 },
      ...{ purposes: [], unsorted: 0, trackers: [] },
    })),
  ];
  const listed = all.map((tag): ListedTag => {
    const s = of(tag);
    const plan = s?.plan ?? NOTHING_SAID;
    const needs = plan.needs === null ? tag.purposes : [plan.needs];
    return {
      ...tag,
      ...{ plan, needs, said: s !== undefined, byHand: s?.byHand ?? false },
      ran: ran.get(`${tag.host}\n${tag.name}`) ?? null,
    };
  });
  return listed.toSorted((a, b) => Number(a.needs.length > 0) - Number(b.needs.length > 0));
}

export const TagsSaid = z.object({
  tags: z
    .array(z.object({ host: z.string().min(1).max(260), name: z.string().min(1).max(300) }))
    .min(1, 'Choose at least one tag')
    .max(500, 'At most 500 tags at once'),
  plan: TagPlan.partial(),
});
export type TagsSaid = z.infer<typeof TagsSaid>;

/** Says the same of many tags at once; what is not given stays. Returns what stood before. Throws a RefusedError (400). */
export async function sayTags(
  ctx: Context,
  accountId: number,
  host: string,
  { tags, plan }: TagsSaid,
  byHand = false,
): Promise<readonly { host: string; name: string; plan: TagPlan }[]> {
  return ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    await checkPlan(tx, plan);
    const said = await saidTags(tx, site.id);
    const given = Object.fromEntries(Object.entries(plan).filter(([, v]) => v !== undefined));
    const before = tags.map((t) => {
      const stood = said.find((s) => s.host === t.host && s.name === t.name);
      return { ...t, plan: stood?.plan ?? NOTHING_SAID, byHand: stood?.byHand ?? byHand };
    });
    for (const b of before)
      await tx.run(
        'REPLACE INTO tag (site_id, host, name, identity, content, by_hand, edited_by, edited_at) VALUES (?, ?, ?, ?, ?, ?, ?, ?)',
        [
          ...[site.id, b.host, b.name, identity(b), JSON.stringify({ ...b.plan, ...given })],
          ...[b.byHand, accountId, toDatetime(ctx.now())],
        ],
      );
    await remakeGate(tx, site.id);
    await recordAll(
      tx,
      ctx.now(),
      before.map((b) => ({
        actor: accountId,
        action: 'tag.say',
        object: 'site',
        objectId: site.id,
        detail: { tag: `${b.host}${b.name}`, before: { ...b.plan }, after: { ...b.plan, ...given } },
      })),
    );
    return before.map(({ byHand: _by, ...b }) => b);
  });
}

async function checkPlan(tx: Queries, plan: Partial<TagPlan>): Promise<void> {
  if (plan.needs != null && !(await listPurposes(tx)).some((p) => p.code === plan.needs))
    throw new RefusedError('There is no such purpose.', [
      { field: 'needs', message: 'Choose one of the organisation’s purposes.' },
    ]);
  if (plan.checks != null && !(await listTagSystems(tx)).some((s) => s.id === plan.checks))
    throw new RefusedError('There is no such tag system.', [
      { field: 'checks', message: 'Choose a tag system that is mapped, or map it first.' },
    ]);
}

function identity({ host, name }: TagKey): Buffer {
  return createHash('sha256').update(`${host}\n${name}`).digest();
}
