import { randomBytes } from 'node:crypto';
import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import { takeEvents } from '../src/server/protection/activity/take-events.ts';
import { countEvents, eventFacets, listEvents } from '../src/server/protection/activity/events.ts';
import { readSettings } from '../src/server/settings.ts';
import { toDatetime } from '../src/server/store/columns.ts';
import { ensureMonths } from '../src/server/store/partitions.ts';
import type { Store } from '../src/server/store/pool.ts';
import { figure, median } from './figure.ts';

/** The first page, the count and the facets of any filter over a year of activity; then records a second taken in. */
const MANY = Number(process.env['BENCH_ITEMS'] ?? 10_000_000);
const TIMES = 3;
const GOAL_MS = 300;
const BATCH = 1000;
const SENDERS = 4;
const TAKE_MS = 15_000;
const DAY = 86_400_000;
const now = new Date();
const recent = new Date(now.getTime() - 30 * DAY).toISOString().slice(0, 10);
const FILTERS: readonly Readonly<Record<string, string>>[] = [
  {},
  { channel: 'printer' },
  { channel: 'short range' },
  { outcome: 'stop' },
  { outcome: 'go' },
  { answer: 'false alarm' },
  { rule: '3' },
  { data: 'passport' },
  { data: 'rare' },
  { level: 'strictly-confidential' },
  { person: 'p17@line.example' },
  { device: '44' },
  { kind: 'mail' },
  { act: 'paste' },
  { from: recent },
  { from: recent, channel: 'mail', outcome: 'ask' },
  { from: recent, data: 'passport', outcome: 'stop' },
  { person: 'p17@line.example', outcome: 'stop' },
  { channel: 'printer', level: 'open', answer: 'went on' },
];

/** 400 people over a year; one in twelve acts is met by a rule, one in three holds something. */
async function fill(store: Store, rows: number): Promise<void> {
  const detail =
    '{"towards":["x.example"],"program":"","network":"","item":null,"findings":[],"rules":[],"counted":[],"reason":"","change":null}';
  for (let from = 0; from < rows; from += 200_000) {
    const to = Math.min(rows, from + 200_000) - 1;
    const at = `'${toDatetime(now)}' - INTERVAL FLOOR((1 - seq / ${rows}) * 31536000) SECOND`;
    const id = "UNHEX(MD5(CONCAT('a', seq)))";
    await store.run(
      `INSERT INTO activity_event (at, id, taken_at, kind, person, act, channel, device_id, outcome, answer, rule_id, level, detail)
       SELECT ${at}, ${id}, NOW(3), IF(seq % 9 = 0, 'mail', 'device'), CONCAT('p', (seq * 7919) % 400, '@line.example'),
         ELT(1 + seq % 5, 'copy', 'print', 'paste', 'send', 'upload'),
         ELT(1 + (seq * 31) % 7, 'mail', 'printer', 'web form', 'network share', 'removable drive', 'clipboard', IF(seq % 1000 = 0, 'short range', 'mail')),
         (seq * 7919) % 400, @o := IF(seq % 12 > 0, 'go', ELT(1 + (seq DIV 12) % 3, 'record', 'ask', 'stop')),
         IF(seq % 12 > 0, '', ELT(1 + (seq DIV 36) % 4, '', 'went on', 'turned back', 'false alarm')),
         IF(seq % 12 > 0, 0, 1 + seq % 9), ELT(1 + seq % 4, '', 'open', 'internal', 'strictly-confidential'), ?
       FROM seq_${from}_to_${to}`,
      [detail],
    );
    await store.run(
      `INSERT INTO activity_finding (detector, at, id, matches)
       SELECT IF(seq % 30000 = 0, 'rare', ELT(1 + seq % 3, 'passport', 'email', 'iban')), ${at}, ${id}, 3 FROM seq_${from}_to_${to} WHERE seq % 3 = 0`,
    );
  }
  await store.run('UPDATE activity_count SET n = ? WHERE id = 1', [rows]);
}

const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
const [port = 0] = await freePorts(1);
const database = await startMariadb(folder, port, true);
try {
  const { store } = await prepareDatabase(database.url);
  await ensureMonths(store, new Date(now.getTime() - 370 * DAY), now);
  await fill(store, MANY);
  const worst: number[] = [];
  for (const wish of FILTERS) {
    const took: number[] = [];
    for (let i = 0; i <= TIMES; i++) {
      const begun = performance.now();
      await Promise.all([
        listEvents(store, wish, undefined, 100),
        countEvents(store, wish),
        eventFacets(store, wish),
      ]);
      // The first warms what the server keeps.
      if (i > 0) took.push(performance.now() - begun);
    }
    worst.push(median(took));
    figure('activity', `page, count and facets of ${JSON.stringify(wish)}`, median(took), 'ms');
  }
  figure(
    'activity',
    `the slowest of ${FILTERS.length} filters over ${MANY} records`,
    Math.max(...worst),
    'ms',
  );
  figure('activity', 'of the goal', Math.max(...worst) / GOAL_MS, '×');
  const ctx = {
    store,
    settings: readSettings({ DATABASE_URL: database.url, SECRET_KEY: 'ab'.repeat(32), LOG_LEVEL: 'silent' }),
    now: () => new Date(),
  };
  const batch = () =>
    Array.from({ length: BATCH }, (_, i) =>
      JSON.stringify({
        ...{
          id: randomBytes(16).toString('hex'),
          at: new Date(Date.now() - i).toISOString(),
          kind: 'device',
        },
        ...{
          person: `p${i % 400}@line.example`,
          act: 'copy',
          channel: 'removable drive',
          towards: ['Noname 1'],
        },
        ...{ item: { name: 'list.xlsx', size: 4000, people: 12 } },
        findings: [{ detector: 'passport', matches: 4, confidence: 0.9 }],
      }),
    ).join('\n');
  const until = Date.now() + TAKE_MS;
  const begun = performance.now();
  const taken = await Promise.all(
    Array.from({ length: SENDERS }, async () => {
      let n = 0;
      while (Date.now() < until)
        n += (await takeEvents(ctx, { kinds: ['device'], device: 0, aheadMs: 0 }, batch())).taken;
      return n;
    }),
  );
  const all = taken.reduce((a, b) => a + b, 0);
  figure(
    'activity',
    `acts taken in a second, committed, by ${SENDERS} senders`,
    all / ((performance.now() - begun) / 1000),
    '1/s',
  );
  await store.close();
} finally {
  await database.stop();
  await rm(folder, { recursive: true, force: true });
}
