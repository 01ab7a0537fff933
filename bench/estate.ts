import type { Store } from '../src/server/store/pool.ts';
import { recountRules } from '../src/server/desk/recount-rules.ts';
import { recountToday } from '../src/server/desk/today.ts';
import { ensureMonths } from '../src/server/store/partitions.ts';

export interface EstateSize {
  readonly sites: number;
  readonly sweepsPerSite: number;
  readonly trackersPerSite: number;
  readonly detectors: number;
  readonly entries: number;
  readonly consents: number;
  readonly jobs: number;
}

/** Fills an empty database with an organisation of a size, as years of work would leave it. Everything is made up. */
export async function fillEstate(store: Store, now: Date, size: EstateSize): Promise<void> {
  const year = new Date(now.getTime() - 365 * 86_400_000);
  await ensureMonths(store, year, now);
  const end = now.toISOString().slice(0, 19).replace('T', ' ');
  /** A time so many seconds ago. */
  const day = (ago: string) =>
    `TIMESTAMPADD(SECOND, -(${ago.replaceAll('seq', 'CAST(seq AS SIGNED)')}), '${end}')`;
  const fill = (table: string, columns: string, values: string, n: number) =>
    n > 0 ? store.run(`INSERT INTO ${table} (${columns}) SELECT ${values} FROM seq_1_to_${n}`) : undefined;

  await store.run(
    "INSERT INTO account (id, email, name, title, password_hash) VALUES (1, 'ines@estate.example', 'Ines', '', '')",
  );
  await store.run("INSERT INTO account_role (account_id, role, given_at) VALUES (1, 'officer', NOW())");
  await fill(
    'site',
    'id, host, start_url, name, site_key, scope, created_at',
    `seq, CONCAT('site', seq, '.example'), CONCAT('https://site', seq, '.example/'), CONCAT('Site ', seq), LPAD(seq, 20, 'k'), '{"maxPages":250,"maxMinutes":30}', ${day('seq')}`,
    size.sites,
  );
  await fill(
    'rule',
    'kind, id, name, content, revision, stage, last_version, edited_at',
    `'notice', seq, CONCAT('site', seq, '.example'), '{}', 1, '{"state":"in force","version":1,"since":"2026-01-01T00:00:00.000Z"}', 1, ${day('seq')}`,
    size.sites,
  );
  const sweeps = size.sites * size.sweepsPerSite;
  await fill(
    'sweep',
    'id, site_id, state, visitors, scope, pages, trackers, notes, created_at, started_at, finished_at',
    `seq, 1 + seq % ${size.sites}, 'complete', '["before","accepted"]', '{}', 200, ${size.trackersPerSite}, '[]', ${day(`${sweeps} - seq`)}, ${day(`${sweeps} - seq`)}, ${day(`${sweeps} - seq`)}`,
    sweeps,
  );
  const trackers = size.sites * size.trackersPerSite;
  await fill(
    'tracker',
    'id, site_id, identity, kind, name, host, proposed, proposal, shared, first_seen, last_seen',
    `seq, 1 + seq % ${size.sites}, UNHEX(SHA2(seq, 256)), 'cookie', CONCAT('t_', seq), CONCAT('h', seq % 97, '.example'), ELT(1 + seq % 4, 'essential', 'measurement', 'advertising', NULL), '{"purpose":null,"confidence":0,"reasons":[],"essential":0}', UNHEX(SHA2(seq % 5000, 256)), ${day('seq')}, ${day('seq')}`,
    trackers,
  );
  await store.run(
    `INSERT INTO swept_tracker (sweep_id, tracker_id, seen, party, pages, leaks)
     SELECT w.id, t.id, 3, 'third', 5, t.id % 9 = 0 FROM sweep w JOIN tracker t ON t.site_id = w.site_id`,
  );
  await fill(
    'rule',
    'kind, id, name, content, stage, last_version, edited_at',
    `'detector', CONCAT('own-', seq), CONCAT('Detector ', seq), JSON_OBJECT('kind', 'pattern', 'name', CONCAT('Detector ', seq)), IF(seq % 3, '{"state":"in force","version":1,"since":"2026-01-01T00:00:00.000Z"}', '{"state":"draft"}'), 1, ${day('seq')}`,
    size.detectors,
  );
  await fill('detector', 'id, kind', "CONCAT('own-', seq), 'pattern'", size.detectors);
  await fill(
    'ledger_entry',
    'id, at, actor, action, object, object_id, detail, tree, tree_index, audit_path',
    `seq, ${day(`(${size.entries} - seq) * 20`)}, IF(seq % 10, 'visitor', '1'), ELT(1 + seq % 4, 'consent.record', 'consent.record', 'sweep.end', 'tracker.decide'), ELT(1 + seq % 4, 'consent', 'consent', 'sweep', 'tracker'), seq % 1000, '{}', 1 + seq DIV 500, seq % 500, ''`,
    size.entries,
  );
  await fill(
    'ledger_tree',
    'number, size, sealed_at, root, previous, head, total',
    `seq, 500, ${day(`${Math.ceil(size.entries / 500)} - seq`)}, UNHEX(SHA2(seq, 256)), UNHEX(SHA2(seq, 256)), UNHEX(SHA2(seq, 256)), seq * 500`,
    1 + Math.floor(size.entries / 500),
  );
  await fill(
    'consent_record',
    'id, at, site_id, notice_version, choice, act, asked, allowed, language, region, address, visitor_key, ledger_id',
    `UNHEX(SUBSTR(SHA2(seq, 256), 1, 32)), ${day('seq * 20')}, 1 + seq % ${size.sites}, 1 + seq % 5, ELT(1 + seq % 3, 'allowed all', 'refused all', 'allowed some'), 'first', 'measurement', 'measurement', 'da', ELT(1 + seq % 6, 'DK', 'SE', 'DE', 'NO', 'GB', 'US-CA'), '192.0.2.0', UNHEX(SUBSTR(SHA2(seq DIV 2, 256), 1, 32)), seq`,
    size.consents,
  );
  await fill(
    'job',
    'kind, title, object, object_id, payload, state, link, created_at, finished_at, run_at',
    `'sweep', CONCAT('Sweep ', seq), 'sweep', seq, '{}', IF(seq % 50, 'done', 'failed'), '/websites', ${day('seq * 60')}, ${day('seq * 60')}, ${day('seq * 60')}`,
    size.jobs,
  );
  // A sixth of the sites have something that needs a hand.
  await fill(
    'today_item',
    'kind, item_key, action, words, link, since, source, place',
    `'leak', CONCAT('site ', seq), 'websites.read', CONCAT('1 tracker runs without permission on site', seq), '/websites', ${day('seq')}, CONCAT('site ', seq), 10`,
    Math.ceil(size.sites / 6),
  );
  await store.transaction(recountRules);
  await store.transaction(recountToday);
  for (const table of [
    'site',
    'notice',
    'sweep',
    'tracker',
    'swept_tracker',
    'detector',
    'job',
    'today_item',
  ])
    await store.run(`ANALYZE TABLE ${table}`);
}
