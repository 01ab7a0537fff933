import { z } from 'zod';
import { change, inWords, merge, same, type Json } from '../../core/change.ts';
import { move, versionInForce, versionRehearsed, type Act, type Stage } from '../../core/rule.ts';
import { notFound, RefusedError } from '../../core/refusal.ts';
import { fairness, NoticeContent, noticeVocabulary } from '../../core/websites/notice.ts';
import type { Context } from '../context.ts';
import { record } from '../evidence/ledger.ts';
import { Instant, JsonColumn, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';
import type { GateHold } from '../../core/websites/fix.ts';
import { holdsOf } from './gate-holds.ts';
import { listPurposes } from './purposes.ts';
import { findSite } from './sites.ts';
import { StageColumn } from './stage-column.ts';

/** A draft may be unfinished, so it is stored as it is; what goes in force is parsed strictly. */
const Draft = JsonColumn(z.custom<NoticeContent>((v) => typeof v === 'object' && v !== null));

const NoticeRow = z.object({
  site_id: z.number(),
  content: Draft,
  revision: z.number(),
  stage: StageColumn,
  last_version: z.number(),
  edited_at: Instant,
  edited_by: z.string().nullable(),
});
const SELECT = `SELECT n.site_id, n.content, n.revision, n.stage, n.last_version, n.edited_at, a.name AS edited_by FROM notice n LEFT JOIN account a ON a.id = n.edited_by`;

export interface Notice {
  readonly siteId: number;
  readonly content: NoticeContent;
  readonly revision: number;
  readonly stage: Stage;
  readonly lastVersion: number;
  readonly editedAt: string;
  readonly editedBy: string | null;
  /** What the draft changes in the newest version, in words; empty when nothing. */
  readonly changes: readonly string[];
}

async function readNotice(store: Queries, siteId: number, lock = false): Promise<z.infer<typeof NoticeRow>> {
  const row = await store.one(NoticeRow, `${SELECT} WHERE n.site_id = ?${lock ? ' FOR UPDATE' : ''}`, [
    siteId,
  ]);
  if (!row) throw notFound('notice');
  return row;
}

export async function findNotice(store: Queries, host: string): Promise<Notice> {
  const site = await findSite(store, host);
  const row = await readNotice(store, site.id);
  const newest = row.last_version > 0 ? await readVersion(store, site.id, row.last_version) : undefined;
  const changes = newest
    ? inWords(change(newest as Json, row.content as Json), noticeVocabulary(await listPurposes(store)))
    : [];
  return {
    siteId: row.site_id,
    content: row.content,
    revision: row.revision,
    stage: row.stage,
    lastVersion: row.last_version,
    editedAt: row.edited_at,
    editedBy: row.edited_by,
    changes,
  };
}

export async function readVersion(store: Queries, siteId: number, version: number): Promise<NoticeContent> {
  const row = await store.one(
    z.object({ content: JsonColumn(NoticeContent) }),
    'SELECT content FROM notice_version WHERE site_id = ? AND version = ?',
    [siteId, version],
  );
  if (!row) throw notFound('version of the notice');
  return row.content;
}

/** What the second of two editors is told. */
export interface EditConflict {
  readonly revision: number;
  readonly editedBy: string | null;
  readonly theirs: NoticeContent;
  readonly merged: Json;
  /** Places both changed, in words. */
  readonly collisions: readonly string[];
  /** What the other changed, in words. */
  readonly theirChanges: readonly string[];
}

/**
 * Saves the draft if nobody saved since `revision`. Otherwise throws a RefusedError (409) whose detail is an
 * EditConflict: both versions, the merge, and where they collide. `base` is what the editor began from.
 */
export async function saveDraft(
  ctx: Context,
  accountId: number,
  host: string,
  revision: number,
  base: NoticeContent,
  content: NoticeContent,
): Promise<{ revision: number }> {
  return ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host);
    const row = await readNotice(tx, site.id, true);
    const vocabulary = noticeVocabulary(await listPurposes(tx));
    if (row.revision !== revision && !same(row.content as Json, base as Json)) {
      const merged = merge(base as Json, content as Json, row.content as Json);
      const detail: EditConflict = {
        revision: row.revision,
        editedBy: row.edited_by,
        theirs: row.content,
        merged: merged.value,
        collisions: merged.conflicts.map((c) => vocabulary.path?.(c.path) ?? c.path.join(', ')),
        theirChanges: inWords(change(base as Json, row.content as Json), vocabulary),
      };
      throw new RefusedError(
        `${row.edited_by ?? 'Someone'} saved this notice while you were editing.`,
        [],
        409,
        detail,
      );
    }
    const difference = change(row.content as Json, content as Json);
    if (difference.length === 0) return { revision: row.revision };
    const now = ctx.now();
    await tx.run(
      'UPDATE notice SET content = ?, revision = ?, edited_by = ?, edited_at = ? WHERE site_id = ?',
      [JSON.stringify(content), row.revision + 1, accountId, toDatetime(now), site.id],
    );
    await record(tx, now, {
      actor: accountId,
      action: 'notice.edit',
      object: 'notice',
      objectId: site.id,
      detail: {
        revision: row.revision + 1,
        words: inWords(difference, vocabulary),
        change: difference as unknown as Json,
      },
    });
    return { revision: row.revision + 1 };
  });
}

/**
 * Moves the notice to another state. Rehearsing and putting in force freeze the draft as a version; the draft must
 * then be whole and fair. Throws a RefusedError that names what is missing, or (409) that someone edited since.
 */
export async function moveNotice(
  ctx: Context,
  accountId: number,
  host: string,
  act: Act['act'],
  revision: number,
): Promise<Stage> {
  return ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const site = await findSite(tx, host);
    const row = await readNotice(tx, site.id, true);
    const freezes = act === 'rehearse' || act === 'put in force';
    if (freezes && row.revision !== revision)
      throw new RefusedError(
        `${row.edited_by ?? 'Someone'} changed this notice a moment ago. Look at it again first.`,
        [],
        409,
      );
    const version = freezes ? await freeze(tx, now, accountId, row) : 0;
    const result = move(row.stage, freezes ? { act, version } : { act }, now.toISOString());
    if (!result.ok) throw new RefusedError(result.why, [], 409);
    await tx.run('UPDATE notice SET stage = ?, last_version = GREATEST(last_version, ?) WHERE site_id = ?', [
      JSON.stringify(result.stage),
      version,
      site.id,
    ]);
    await record(tx, now, {
      actor: accountId,
      action: `notice.${act.replaceAll(' ', '-')}`,
      object: 'notice',
      objectId: site.id,
      detail: { before: row.stage as unknown as Json, after: result.stage as unknown as Json },
    });
    return result.stage;
  });
}

/** The version of the draft as it stands: the newest if nothing changed since, else a new one. */
async function freeze(
  tx: Queries,
  now: Date,
  accountId: number,
  row: z.infer<typeof NoticeRow>,
): Promise<number> {
  const parsed = NoticeContent.safeParse(row.content);
  if (!parsed.success)
    throw new RefusedError(
      'The notice is not ready.',
      parsed.error.issues.map((i) => ({ field: i.path.join('.'), message: i.message })),
    );
  const blocks = fairness(parsed.data, await listPurposes(tx)).filter((f) => f.blocks && !f.met);
  if (blocks.length > 0)
    throw new RefusedError(
      'The notice is not ready.',
      blocks.map((b) => ({ field: 'notice', message: b.words })),
    );
  if (
    row.last_version > 0 &&
    same((await readVersion(tx, row.site_id, row.last_version)) as Json, parsed.data as Json)
  )
    return row.last_version;
  const version = row.last_version + 1;
  await insertVersion(tx, now, row.site_id, version, parsed.data, accountId);
  return version;
}

export async function insertVersion(
  tx: Queries,
  at: Date,
  siteId: number,
  version: number,
  content: NoticeContent,
  by: number | null,
): Promise<void> {
  await tx.run(
    'INSERT INTO notice_version (site_id, version, content, made_by, made_at) VALUES (?, ?, ?, ?, ?)',
    [siteId, version, JSON.stringify(content), by, toDatetime(at)],
  );
}

/** Puts the content of an older version back into the draft; it can then be rehearsed or put in force as a new one. */
export async function takeBack(
  ctx: Context,
  accountId: number,
  host: string,
  version: number,
): Promise<void> {
  const notice = await findNotice(ctx.store, host);
  const older = await readVersion(ctx.store, notice.siteId, version);
  await saveDraft(ctx, accountId, host, notice.revision, notice.content, older);
}

const VersionRow = z.object({
  version: z.number(),
  made_at: Instant,
  made_by: z.string().nullable(),
  content: JsonColumn(NoticeContent),
});

export interface ListedVersion {
  readonly version: number;
  readonly madeAt: string;
  readonly madeBy: string | null;
  /** What it changed in the one before, in words. */
  readonly changes: readonly string[];
}

/** Newest first. */
export async function listVersions(store: Queries, host: string): Promise<ListedVersion[]> {
  const site = await findSite(store, host);
  const rows = await store.all(
    VersionRow,
    'SELECT v.version, v.made_at, a.name AS made_by, v.content FROM notice_version v LEFT JOIN account a ON a.id = v.made_by WHERE v.site_id = ? ORDER BY v.version DESC LIMIT 100',
    [site.id],
  );
  const vocabulary = noticeVocabulary(await listPurposes(store));
  return rows.map((row, i) => {
    const before = rows[i + 1];
    return {
      version: row.version,
      madeAt: row.made_at,
      madeBy: row.made_by,
      changes: before ? inWords(change(before.content as Json, row.content as Json), vocabulary) : [],
    };
  });
}

export interface ServedNotice {
  readonly siteId: number;
  readonly host: string;
  readonly version: number;
  /** The oldest version that asked for the same purposes without a break since: its choices still hold. */
  readonly asksSince: number;
  readonly content: NoticeContent;
}

/** What a visitor (or, `rehearsing`, a preview or a sweep) gets; `undefined` content where nothing is in force. */
export async function servedNotice(
  store: Queries,
  siteKey: string,
  rehearsing: boolean,
): Promise<
  { siteId: number; host: string; holds: readonly GateHold[]; notice: ServedNotice | undefined } | undefined
> {
  const site = await store.one(
    z.object({ id: z.number(), host: z.string(), stage: StageColumn }),
    'SELECT s.id, s.host, n.stage FROM site s JOIN notice n ON n.site_id = s.id WHERE s.site_key = ?',
    [siteKey],
  );
  if (!site) return undefined;
  const version = rehearsing ? versionRehearsed(site.stage) : versionInForce(site.stage);
  const holds = await holdsOf(store, site.id);
  if (version === undefined) return { siteId: site.id, host: site.host, holds, notice: undefined };
  const rows = await store.all(
    z.object({ version: z.number(), content: JsonColumn(NoticeContent) }),
    'SELECT version, content FROM notice_version WHERE site_id = ? AND version <= ? ORDER BY version DESC LIMIT 50',
    [site.id, version],
  );
  const content = rows[0]?.content;
  if (!content) return { siteId: site.id, host: site.host, holds, notice: undefined };
  const firstOther = rows.findIndex(
    (r) =>
      r.content.purposes.some((p) => !content.purposes.includes(p)) ||
      content.purposes.some((p) => !r.content.purposes.includes(p)),
  );
  const asksSince = rows[firstOther < 0 ? rows.length - 1 : firstOther - 1]?.version ?? version;
  return {
    siteId: site.id,
    host: site.host,
    holds,
    notice: { siteId: site.id, host: site.host, version, asksSince, content },
  };
}
