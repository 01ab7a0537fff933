import { z } from 'zod';
import type { Json } from '../src/core/rules/change.ts';
import { auditPaths, chainHead, FIRST_HEAD, type Hash } from '../src/core/evidence/merkle.ts';
import { entryLeaf, type LedgerEntry } from '../src/core/evidence/ledger.ts';
import { addAccount, hashPassword } from '../src/server/accounts/account.ts';
import { packPath } from '../src/server/evidence/ledger.ts';
import type { Context } from '../src/server/context.ts';
import { Count, toDatetime } from '../src/server/store/columns.ts';
import type { Queries, Store } from '../src/server/store/pool.ts';
import { insertConsents } from '../src/server/websites/consents/consents.ts';
import { insertKnown } from '../src/server/websites/library/known-trackers.ts';
import { insertVersion } from '../src/server/websites/notices/notices.ts';
import { insertSite } from '../src/server/websites/sites/sites.ts';
import { demoConsents, type DemoConsent } from './consents.ts';
import { loadDetectors } from './detectors.ts';
import { DEMO_LIBRARY } from './library.ts';
import { DEMO_SITES, type DemoSite } from './notices.ts';
import { emailOf, PEOPLE } from './people.ts';
import { Random } from './random.ts';
import { loadRecordedSweeps, storeReports } from './recorded-sweeps.ts';

export const DEMO_PASSWORD = 'five ships, four ports';

const DAY = 86_400_000;

export async function isEmpty(store: Store): Promise<boolean> {
  const row = await store.one(
    z.object({ n: Count }),
    'SELECT (SELECT COUNT(*) FROM account) + (SELECT COUNT(*) FROM site) AS n',
  );
  return row?.n === 0;
}

/** Fills an empty database with Brindle Strait Ferries. All or nothing: a demo half loaded is taken back. */
export async function loadDemo(ctx: Context, tell: (words: string) => void): Promise<void> {
  const password = await hashPassword(DEMO_PASSWORD);
  await ctx.store.transaction(async (tx) => {
    const random = new Random(20_261_120);
    const now = ctx.now();
    const at = (daysAgo: number) => new Date(now.getTime() - daysAgo * DAY);
    const ids = new Map<string, number>();
    for (const p of PEOPLE)
      ids.set(p.name, await addAccount(tx, { ...p, email: emailOf(p.name), passwordHash: password }));
    const officer = ids.get('Ines Abara') as number;
    const manager = ids.get('Priya Nand') as number;
    await tx.run('DELETE FROM ledger_entry');
    const lines: LedgerDraft[] = [];
    const consents: DemoConsent[] = [];
    for (const site of DEMO_SITES) {
      const host = `${site.host}:${ctx.settings.STANDIN_PORT}`;
      const { id } = await insertSite(tx, at(90), {
        host,
        startUrl: `http://${host}/`,
        name: site.name,
        by: manager,
        region: site.host.startsWith('cruises') ? 'US-CA' : 'DK',
      });
      lines.push(line(at(90), manager, 'site.add', 'site', id, { host }));
      await loadNotice(tx, site, id, at, officer, manager, lines);
      consents.push(...demoConsents(site, id, host, now, random));
    }
    const steward = ids.get('Osei Darko') as number;
    await loadDetectors(tx, ctx, random, at, officer, steward, lines);
    await tx.run('DELETE FROM ledger_entry');
    tell(`${consents.length.toLocaleString('en')} consent records over 90 days`);
    lines.push(
      ...consents.map((c) =>
        line(new Date(c.receipt.at), 'visitor', 'consent.record', 'consent', c.receipt.id, {
          receipt: c.digest,
        }),
      ),
    );
    await insertKnown(tx, DEMO_LIBRARY, manager, at(40));
    const sweeps = await loadRecordedSweeps(
      tx,
      ctx.settings.STANDIN_PORT,
      ctx.settings.VISITOR_ORIGIN,
      now,
      manager,
    );
    lines.push(...sweeps.lines);
    const places = await writeLedger(tx, lines);
    await storeReports(tx, sweeps.reports, places);
    for (let i = 0; i < consents.length; i += 1000)
      await insertConsents(
        tx,
        consents.slice(i, i + 1000).map((c) => ({ ...c, ledgerId: places.get(c.receipt.id) as number })),
      );
    tell(`${lines.length.toLocaleString('en')} ledger entries, sealed day by day`);
  });
}

async function loadNotice(
  tx: Queries,
  site: DemoSite,
  id: number,
  at: (d: number) => Date,
  officer: number,
  manager: number,
  lines: LedgerDraft[],
): Promise<void> {
  for (const [i, v] of site.versions.entries()) {
    await insertVersion(tx, at(v.daysAgo), id, i + 1, v.content, manager);
    const act =
      site.stage(() => '').state === 'rehearsing' && i === site.versions.length - 1
        ? 'rehearse'
        : 'put-in-force';
    lines.push(line(at(v.daysAgo), officer, `notice.${act}`, 'notice', id, { version: i + 1 }));
  }
  const stage = site.stage((d) => at(d).toISOString());
  await tx.run(
    'UPDATE notice SET content = ?, stage = ?, last_version = ?, edited_by = ?, edited_at = ? WHERE site_id = ?',
    [
      JSON.stringify(site.draft),
      JSON.stringify(stage),
      site.versions.length,
      manager,
      toDatetime(at(site.versions.at(-1)?.daysAgo ?? 90)),
      id,
    ],
  );
}

export interface LedgerDraft {
  readonly at: Date;
  readonly actor: string;
  readonly action: string;
  readonly object: string;
  readonly objectId: string;
  readonly detail: Json;
}

export function line(
  at: Date,
  actor: number | string,
  action: string,
  object: string,
  objectId: number | string,
  detail: Json,
): LedgerDraft {
  return { at, actor: String(actor), action, object, objectId: String(objectId), detail };
}

/** Writes entries in the order of their time, sealed in one tree a day. Returns the entry of each consent record, and of each sweep's report by its digest. */
async function writeLedger(tx: Queries, lines: readonly LedgerDraft[]): Promise<Map<string, number>> {
  const sorted = lines.toSorted((a, b) => a.at.getTime() - b.at.getTime());
  const places = new Map<string, number>();
  let previous: Hash = FIRST_HEAD;
  let number = 0;
  for (let from = 0; from < sorted.length;) {
    const day = dayOf(sorted[from] as LedgerDraft);
    let to = from;
    while (to < sorted.length && dayOf(sorted[to] as LedgerDraft) === day) to++;
    const entries = sorted.slice(from, to).map(({ at, ...rest }, i): LedgerEntry => ({
      id: String(from + i + 1),
      at: at.toISOString(),
      ...rest,
      detail: rest.detail as LedgerEntry['detail'],
    }));
    const { root, paths } = auditPaths(entries.map(entryLeaf));
    const sealedAt = (sorted[to - 1] as LedgerDraft).at.toISOString();
    number++;
    const head = chainHead(previous, { number, size: entries.length, root, sealedAt });
    await tx.run(
      'INSERT INTO ledger_tree (number, size, sealed_at, root, previous, head) VALUES (?, ?, ?, ?, ?, ?)',
      [
        number,
        entries.length,
        toDatetime(sealedAt),
        Buffer.from(root),
        Buffer.from(previous),
        Buffer.from(head),
      ],
    );
    for (let i = 0; i < entries.length; i += 1000)
      await tx.run(
        'INSERT INTO ledger_entry (id, at, actor, action, object, object_id, detail, tree, tree_index, audit_path) VALUES ?',
        [
          entries
            .slice(i, i + 1000)
            .map((e, j) => [
              e.id,
              toDatetime(e.at),
              e.actor,
              e.action,
              e.object,
              e.objectId,
              JSON.stringify(e.detail),
              number,
              i + j,
              packPath(paths[i + j] ?? []),
            ]),
        ],
      );
    for (const e of entries) {
      if (e.object === 'consent') places.set(e.objectId, Number(e.id));
      const { report } = (e.detail ?? {}) as { report?: unknown };
      if (typeof report === 'string') places.set(report, Number(e.id));
    }
    previous = head;
    from = to;
  }
  return places;
}

function dayOf(line: LedgerDraft): string {
  return line.at.toISOString().slice(0, 10);
}
