import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import { listConsents } from '../src/server/websites/consents/consents.ts';
import type { Store } from '../src/server/store/pool.ts';
import { figure, median } from './figure.ts';

/** The first page of records under any filter: with many on record against the same with ten thousand. */
const MANY = Number(process.env['BENCH_ITEMS'] ?? 10_000_000);
const FEW = 10_000;
const TIMES = 7;
const FILTERS: readonly Readonly<Record<string, string>>[] = [
  {},
  { choice: 'refused all' },
  { choice: 'allowed some' },
  { region: 'DK' },
  { region: 'FO' },
  { version: '3' },
  { language: 'fo' },
  { device: 'tablet' },
  { page: '/cars' },
  { region: 'FO', choice: 'allowed some' },
  { region: 'SE', version: '1', choice: 'refused all' },
  { from: '2026-02-01', to: '2026-02-07' },
  { from: '2026-02-01', to: '2026-02-07', region: 'SE', choice: 'refused all' },
];

async function fill(store: Store, siteId: number, rows: number): Promise<void> {
  await store.run(
    `INSERT INTO site (id, host, start_url, name, site_key, scope, chosen, paths, created_at) SELECT ?, ?, 'http://x.example/', 'x', ?, scope, chosen, paths, created_at FROM (SELECT '{}' AS scope, '[]' AS chosen, '{}' AS paths, NOW() AS created_at) x`,
    [siteId, `site${siteId}.example`, String(siteId).padStart(20, '0')],
  );
  for (let from = 0; from < rows; from += 200_000) {
    const to = Math.min(rows, from + 200_000);
    await store.run(
      `INSERT INTO consent_record (id, at, site_id, notice_version, choice, act, asked, allowed, language, region, address, visitor_key, ledger_id, device, page_group)
       SELECT UNHEX(CONCAT(LPAD(HEX(UNIX_TIMESTAMP(at) * 1000), 12, '0'), LPAD(HEX(${siteId}), 4, '0'), LPAD(HEX(seq), 16, '0'))),
         at, ${siteId}, 1 + seq % 3, ELT(1 + (seq * 7) % 10 DIV 4, 'allowed all', 'refused all', 'allowed some'), 'first',
         'measurement', '', IF(seq % 5000 = 1, 'fo', 'en'), IF(seq % 5000 = 0, 'FO', ELT(1 + seq % 3, 'DK', 'SE', 'DE')), '198.18.0.0',
         UNHEX(MD5(CONCAT(${siteId}, '-', seq))), seq,
         IF(seq % 3000 = 0, 'tablet', 'phone'), IF(seq % 40 = 0, 'cars', '')
       FROM (SELECT seq, '2026-01-01' + INTERVAL FLOOR(seq / ? * 7776000) SECOND AS at FROM seq_${from}_to_${to - 1}) s`,
      [rows],
    );
  }
}

const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
const [port = 0] = await freePorts(1);
const database = await startMariadb(folder, port, true);
try {
  const { store } = await prepareDatabase(database.url);
  await fill(store, 9001, FEW);
  await fill(store, 9002, MANY);
  const firstPage = async (host: string, wish: Readonly<Record<string, string>>) => {
    const begun = performance.now();
    await listConsents(store, host, wish, undefined, 100);
    return performance.now() - begun;
  };
  const worst: number[] = [];
  for (const wish of FILTERS) {
    const [few, many]: [number[], number[]] = [[], []];
    for (let i = 0; i <= TIMES; i++) {
      const [a, b] = [await firstPage('site9001.example', wish), await firstPage('site9002.example', wish)];
      // The first of each warms what the server keeps.
      if (i > 0) {
        few.push(a);
        many.push(b);
      }
    }
    const ratio = median(many) / median(few);
    worst.push(ratio);
    figure('records', `first page, ${JSON.stringify(wish)}, ${MANY} / ${FEW} on record`, ratio, '×');
  }
  figure('records', 'the slowest of them', Math.max(...worst), '×');
  await store.close();
} finally {
  await database.stop();
  await rm(folder, { recursive: true, force: true });
}
