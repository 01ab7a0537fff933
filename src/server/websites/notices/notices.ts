import { asksTheSame } from '../../../core/websites/notice/asks-the-same.ts';
import { z } from 'zod';
import { versionInForce, versionRehearsed } from '../../../core/rules/rule.ts';
import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import type { RegimeRow } from '../../../core/websites/notice/regime.ts';
import * as rules from '../../rules/rule-versions.ts';
import { viewRule, type RuleView } from '../../rules/rule-view.ts';
import type { Queries } from '../../store/pool.ts';
import type { TagSystem } from '../../../core/websites/gate/tag-system.ts';
import type { GateHold } from '../../../core/websites/trackers/fix.ts';
import { ownHolds, readGate, type SiteGate } from '../gate/site-gate.ts';
import { listTagSystems } from '../gate/tag-systems.ts';
import { holdsOf } from '../trackers/gate-holds.ts';
import { findSite } from '../sites/sites.ts';
import { NOTICE_OF_SITE } from '../sites/notice-of-site.ts';
import { NOTICE } from './notice-kind.ts';
import { listPurposes } from './purposes.ts';
import { readRegimes } from './regimes.ts';
import { Flag, JsonColumn } from '../../store/columns.ts';
import { StageColumn } from '../../rules/stage-column.ts';

export interface Notice extends RuleView<NoticeContent> {
  readonly siteId: number;
}

export async function findNotice(store: Queries, host: string): Promise<Notice> {
  const { id } = await findSite(store, host);
  return { ...(await viewRule(store, NOTICE, id)), siteId: id };
}

export async function readVersion(store: Queries, siteId: number, version: number): Promise<NoticeContent> {
  return rules.readRuleVersion(store, NOTICE, siteId, version);
}

export async function insertVersion(
  tx: Queries,
  at: Date,
  siteId: number,
  version: number,
  content: NoticeContent,
  by: number | null,
): Promise<void> {
  await rules.insertRuleVersion(tx, at, NOTICE, siteId, version, content, by);
}

export interface ServedNotice {
  readonly siteId: number;
  readonly host: string;
  readonly version: number;
  /** The oldest version that asked for the same without a break since: its choices still hold. */
  readonly asksSince: number;
  readonly content: NoticeContent;
}

/** What a visitor (or, `rehearsing`, a preview or a sweep) gets; `undefined` content where nothing is in force. */
export async function servedNotice(
  store: Queries,
  siteKey: string,
  rehearsing: boolean,
): Promise<
  | {
      siteId: number;
      host: string;
      /** Other hosts whose answers are this site's. */
      alsoAt: readonly string[];
      holds: readonly GateHold[];
      notice: ServedNotice | undefined;
      regimes: readonly RegimeRow[];
      purposes: readonly Purpose[];
      gate: SiteGate;
      trial: { version: number; share: number; content: NoticeContent } | undefined;
      tagSystems: readonly TagSystem[];
    }
  | undefined
> {
  const site = await store.one(
    z.object({
      id: z.number(),
      host: z.string(),
      also_at: JsonColumn(z.array(z.string())).nullable(),
      retired: Flag,
      stage: StageColumn,
    }),
    `SELECT s.id, s.host, s.also_at, s.retired_at IS NOT NULL AS retired, n.stage FROM site s JOIN ${NOTICE_OF_SITE('s')} WHERE s.site_key = ?`,
    [siteKey],
  );
  if (!site) return undefined;
  const shown = rehearsing ? versionRehearsed(site.stage) : versionInForce(site.stage);
  const version = site.retired ? undefined : shown;
  const gate = await readGate(store, site.id);
  const holds = [...(await holdsOf(store, site.id)), ...ownHolds(gate)];
  const tagSystems = (await listTagSystems(store)).map((t) => t.content);
  const [regimes, purposes] = [await readRegimes(store), await listPurposes(store)];
  const trial = rehearsing ? undefined : await servedTrial(store, site.id, version);
  const common = {
    siteId: site.id,
    host: site.host,
    alsoAt: site.also_at ?? [],
    holds,
    regimes,
    purposes,
    gate,
    tagSystems,
    trial,
  };
  if (version === undefined) return { ...common, notice: undefined };
  const rows = await rules.versionsUpTo(store, NOTICE, site.id, version, 50);
  const content = rows[0]?.content;
  if (!content) return { ...common, notice: undefined };
  const firstOther = rows.findIndex((r) => !asksTheSame(r.content, content));
  const asksSince = rows[firstOther < 0 ? rows.length - 1 : firstOther - 1]?.version ?? version;
  return {
    ...common,
    notice: { siteId: site.id, host: site.host, version, asksSince, content },
  };
}

/** The version that a share of visitors sees instead of the one in force. */
async function servedTrial(store: Queries, siteId: number, inForce: number | undefined) {
  const trial = await store.one(
    z.object({ version: z.number(), share: z.number() }),
    'SELECT version, share FROM notice_trial WHERE site_id = ? AND against = ?',
    [siteId, inForce ?? 0],
  );
  return trial && { ...trial, content: await readVersion(store, siteId, trial.version) };
}
