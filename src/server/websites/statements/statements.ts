import { z } from 'zod';
import { canonicalDigest } from '../../../core/evidence/canonical.ts';
import { BASES, SAFEGUARDS } from '../../../core/holdings/offers.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { change, type Json } from '../../../core/rules/change.ts';
import { toldPurposes } from '../../../core/websites/notice/notice-sentence.ts';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import {
  Interview,
  missingIn,
  NO_ANSWERS,
  statementBlocks,
  type Block,
  type Missing,
  type StatementGround,
  type ToldActivity,
} from '../../../core/websites/statements/statement.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { allActivities, recordNames } from '../../holdings/offers.ts';
import { Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { findNotice } from '../notices/notices.ts';
import { listPurposes } from '../notices/purposes.ts';
import { findSite, type Site } from '../sites/sites.ts';
import { inventoryOf } from '../trackers/inventory.ts';

/** What is said of a statement besides what is found: the interview, and the records of processing it tells of. */
export const StatementContent = z.strictObject({
  interview: Interview,
  activities: z.array(z.string().regex(/^\d+$/)).max(60, 'At most 60 records'),
});
export type StatementContent = z.infer<typeof StatementContent>;

export interface StatementView {
  readonly content: StatementContent;
  readonly revision: number;
  readonly languages: readonly string[];
  readonly language: string;
  readonly blocks: readonly Block[];
  readonly missing: readonly Missing[];
  readonly versions: readonly {
    readonly version: number;
    readonly madeAt: string;
    readonly by: string | null;
    readonly missing: number;
  }[];
  /** Records of processing to choose from. */
  readonly activities: readonly { readonly id: string; readonly name: string }[];
}

/** The statement of a site as it would be published now, in a language of its notice. */
export async function viewStatement(ctx: Context, host: string, language: string): Promise<StatementView> {
  const site = await findSite(ctx.store, host);
  const { content, revision } = await readContent(ctx.store, site.id);
  const { languages } = (await findNotice(ctx.store, host)).content;
  const spoken = languages.includes(language) ? language : (languages[0] ?? 'en');
  const ground = await groundOf(ctx, site, content, spoken);
  const activities = await allActivities(ctx.store);
  const versions = await ctx.store.all(
    z
      .object({ version: z.number(), made_at: Instant, made_by: z.string().nullable(), missing: z.number() })
      .transform((r) => ({ version: r.version, madeAt: r.made_at, by: r.made_by, missing: r.missing })),
    'SELECT v.version, v.made_at, a.name AS made_by, v.missing FROM statement_version v LEFT JOIN account a ON a.id = v.made_by WHERE v.site_id = ? ORDER BY v.version DESC LIMIT 50',
    [site.id],
  );
  return {
    ...{ content, revision, languages, language: spoken, versions },
    ...{ blocks: statementBlocks(ground), missing: missingIn(ground) },
    activities: activities.map((a) => ({ id: String(a.id), name: a.content.name })),
  };
}

async function readContent(store: Queries, siteId: number) {
  const row = await store.one(
    z.object({ content: JsonColumn(StatementContent), revision: z.number() }),
    'SELECT content, revision FROM statement WHERE site_id = ?',
    [siteId],
  );
  return row ?? { content: { interview: NO_ANSWERS, activities: [] }, revision: 0 };
}

async function groundOf(
  ctx: Context,
  site: Site,
  content: StatementContent,
  language: string,
): Promise<StatementGround> {
  const { store } = ctx;
  const [notice, purposes] = [await findNotice(store, site.host), await listPurposes(store)];
  const text = notice.content.texts[language] ?? Object.values(notice.content.texts)[0];
  const asked = toldPurposes(notice.content, purposes);
  const { lines, unsorted, swept } = await inventoryOf(store, site.id, language);
  const known = await allActivities(store);
  const { detectors } = await recordNames(store);
  return {
    ...{ site: site.host, language, interview: content.interview, inventory: lines, unsorted, swept },
    today: ctx.now().toISOString().slice(0, 10),
    // What is found is told, whether the notice asks for it or not.
    purposes: [...asked, ...purposes.map((p) => p.code).filter((c) => !asked.includes(c))].map((code) => ({
      code,
      name: text?.purposes[code]?.name || purposeName(purposes, code),
      text: text?.purposes[code]?.text ?? '',
    })),
    activities: content.activities.flatMap((id): ToldActivity[] => {
      const a = known.find((k) => String(k.id) === id)?.content;
      if (!a) return [];
      return [
        {
          ...{ name: a.name, purpose: a.purpose, basis: BASES[a.basis], retention: a.retention },
          ...{ byConsent: a.basis === 'consent', byInterest: a.basis === 'legitimate interests' },
          data: a.data.map((d) => detectors.get(d) ?? d),
          recipients: a.recipients.map((r) => ({
            ...{ name: r.name, country: r.country },
            safeguard: r.safeguard === 'none' ? '' : SAFEGUARDS[r.safeguard],
          })),
        },
      ];
    }),
  };
}

/** Says what a statement is made of; `revision` is what the editor saw. Throws a RefusedError (409). */
export async function sayStatement(
  ctx: Context,
  accountId: number,
  host: string,
  content: StatementContent,
  revision: number,
): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const site = await findSite(tx, host, true);
    const before = await readContent(tx, site.id);
    if (before.revision !== revision)
      throw new RefusedError(
        'Somebody else changed this statement meanwhile. Look at it, and change it then.',
        [],
        409,
      );
    const difference = change(before.content as Json, content as Json);
    if (difference.length === 0) return;
    await tx.run(
      'REPLACE INTO statement (site_id, content, revision, edited_by, edited_at) VALUES (?, ?, ?, ?, ?)',
      [...[site.id, JSON.stringify(content), revision + 1, accountId, toDatetime(ctx.now())]],
    );
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'statement.say',
      object: 'site',
      objectId: site.id,
      detail: { change: difference as unknown as Json },
    });
  });
}

/** Publishes the statement as it is now, in every language of the notice. */
export async function publishStatement(
  ctx: Context,
  accountId: number,
  host: string,
): Promise<{ version: number }> {
  const site = await findSite(ctx.store, host);
  const { content } = await readContent(ctx.store, site.id);
  const { languages } = (await findNotice(ctx.store, host)).content;
  const bodies: Record<string, readonly Block[]> = {};
  let missing = 0;
  for (const language of languages) {
    const ground = await groundOf(ctx, site, content, language);
    bodies[language] = statementBlocks(ground);
    missing = Math.max(missing, missingIn(ground).length);
  }
  return ctx.store.transaction(async (tx) => {
    await findSite(tx, host, true);
    const last = await tx.one(
      z.object({ n: z.coerce.number().nullable() }),
      'SELECT MAX(version) AS n FROM statement_version WHERE site_id = ?',
      [site.id],
    );
    const version = (last?.n ?? 0) + 1;
    await tx.run(
      'INSERT INTO statement_version (site_id, version, bodies, missing, made_by, made_at) VALUES (?, ?, ?, ?, ?, ?)',
      [site.id, version, JSON.stringify(bodies), missing, accountId, toDatetime(ctx.now())],
    );
    await record(tx, ctx.now(), {
      actor: accountId,
      action: 'statement.publish',
      object: 'site',
      objectId: site.id,
      detail: { version, missing, body: canonicalDigest(bodies) },
    });
    return { version };
  });
}

const Bodies = z.record(
  z.string(),
  z.array(z.custom<Block>((b) => typeof b === 'object' && b !== null && 'is' in b)),
);

/** A statement as it was published; the newest without a version. Throws a RefusedError (404). */
export async function publishedStatement(
  store: Queries,
  siteId: number,
  language: string,
  version?: number,
): Promise<{ version: number; language: string; blocks: readonly Block[] }> {
  const row = await store.one(
    z.object({ version: z.number(), bodies: JsonColumn(Bodies) }),
    `SELECT version, bodies FROM statement_version WHERE site_id = ?${version === undefined ? '' : ' AND version = ?'} ORDER BY version DESC LIMIT 1`,
    version === undefined ? [siteId] : [siteId, version],
  );
  if (!row) throw notFound('statement');
  const spoken = Object.hasOwn(row.bodies, language) ? language : (Object.keys(row.bodies)[0] ?? 'en');
  return { version: row.version, language: spoken, blocks: row.bodies[spoken] ?? [] };
}
