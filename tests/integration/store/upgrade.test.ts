import { join } from 'node:path';
import { afterAll, beforeAll, describe, expect, it } from 'vitest';
import { z } from 'zod';
import { ownDatabase } from '../../own-database.ts';
import { PROJECT } from '../../../launcher/project.ts';
import { firstNotice } from '../../../src/core/websites/notice/notice.ts';
import { ruleCounts } from '../../../src/server/rules/rule-counts.ts';
import { recountRules } from '../../../src/server/desk/recount-rules.ts';
import { recountToday } from '../../../src/server/desk/today.ts';
import { DETECTOR } from '../../../src/server/holdings/detection/detectors/own-detectors.ts';
import { readRule } from '../../../src/server/rules/rule-store.ts';
import { listRuleVersions, readRuleVersion } from '../../../src/server/rules/rule-versions.ts';
import { migrate, readMigrations } from '../../../src/server/store/migrations.ts';
import { openStore, type Store } from '../../../src/server/store/pool.ts';
import { NOTICE } from '../../../src/server/websites/notices/notice-kind.ts';

/** A database as the copy before the ground left it, with a little of everything that moves. */
let store: Store;

beforeAll(async () => {
  const url = new URL(ownDatabase());
  const server = openStore(url.href, 1);
  await server.run('DROP DATABASE IF EXISTS yare_upgrade');
  await server.run('CREATE DATABASE yare_upgrade');
  await server.close();
  url.pathname = '/yare_upgrade';
  store = openStore(url.href, 2);
  const all = await readMigrations(join(PROJECT, 'migrations'));
  await migrate(
    store,
    all.filter((m) => m.number <= 5),
  );
  const content = JSON.stringify(firstNotice());
  const inForce = '{"state":"in force","version":1,"since":"2026-01-01T00:00:00.000Z"}';
  await store.run(
    "INSERT INTO account (id, email, name, title, role, password_hash) VALUES (1, 'a@b.example', 'Ines', '', 'officer', '')",
  );
  await store.run(
    `INSERT INTO site (id, host, start_url, name, site_key, scope, created_at) VALUES (7, 'a.example', 'https://a.example/', 'A', '${'k'.repeat(20)}', '{}', '2026-01-01')`,
  );
  await store.run(
    'INSERT INTO notice (site_id, content, revision, stage, last_version, edited_by, edited_at) VALUES (7, ?, 4, ?, 1, 1, ?)',
    [content, inForce, '2026-01-02'],
  );
  await store.run(
    "INSERT INTO notice_version (site_id, version, content, made_by, made_at) VALUES (7, 1, ?, 1, '2026-01-01')",
    [content],
  );
  await store.run(
    `INSERT INTO detector (id, kind, content, revision, stage, last_version, copied_from, edited_at) VALUES ('crew', 'roster', '{"kind":"roster","name":"Crew list"}', 2, '{"state":"draft"}', 0, '', '2026-01-01')`,
  );
  await store.run(
    "INSERT INTO ledger_tree (number, size, sealed_at, root, previous, head) SELECT seq, seq, '2026-01-01', UNHEX(SHA2(seq, 256)), UNHEX(SHA2(seq, 256)), UNHEX(SHA2(seq, 256)) FROM seq_1_to_3",
  );
  await store.run(
    "INSERT INTO today_item (kind, item_key, action, words, link, since) VALUES ('process', 'worker', 'accounts.edit', 'x', '/today', '2026-01-01')",
  );
  await migrate(store, all);
});
afterAll(() => store.close());

describe('an upgrade', () => {
  it('keeps notices and detectors, with their states and versions, as rules', async () => {
    expect(await readRule(store, NOTICE, 7)).toMatchObject({
      content: firstNotice(),
      revision: 4,
      stage: { state: 'in force', version: 1 },
      lastVersion: 1,
      editedBy: 'Ines',
    });
    expect(await readRuleVersion(store, NOTICE, 7, 1)).toEqual(firstNotice());
    expect(await listRuleVersions(store, NOTICE, 7)).toMatchObject([{ version: 1, madeBy: 'Ines' }]);
    expect(await readRule(store, DETECTOR, 'crew')).toMatchObject({
      content: { name: 'Crew list' },
      revision: 2,
      stage: { state: 'draft' },
    });
    const names = await store.all(z.object({ name: z.string() }), 'SELECT name FROM rule ORDER BY kind');
    expect(names.map((n) => n.name)).toEqual(['Crew list', 'a.example']);
  });

  it('adds up what is kept from now on', async () => {
    const totals = await store.all(
      z.object({ total: z.number() }),
      'SELECT total FROM ledger_tree ORDER BY number',
    );
    expect(totals.map((t) => t.total)).toEqual([1, 3, 6]);
    const kept = () =>
      store.all(z.object({ action: z.string(), items: z.number() }), 'SELECT action, items FROM today_count');
    expect(await kept()).toEqual([{ action: 'accounts.edit', items: 1 }]);
    await store.transaction(recountToday);
    expect(await kept()).toEqual([{ action: 'accounts.edit', items: 1 }]);
    await store.transaction(recountRules);
    expect(await ruleCounts(store, ['notice', 'detector'])).toEqual({ inForce: 1, rehearsing: 0 });
  });
});
