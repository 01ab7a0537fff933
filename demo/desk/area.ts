import { z } from 'zod';
import { Count, toDatetime } from '../../src/server/store/columns.ts';
import type { Demo, DemoArea } from '../demo.ts';
import { Random } from '../random.ts';

const DAYS = 90;

/** What came off Today in the last days. */
const DONE: readonly (readonly [
  kind: string,
  action: string,
  words: string,
  link: string,
  hoursAgo: number,
])[] = [
  [
    'leak',
    'websites.read',
    '2 trackers run without permission on freight.brindlestrait.localhost',
    '/websites/freight.brindlestrait.localhost',
    20,
  ],
  ['access not read', 'access.read', 'Staff directory could not be read', '/access/sources', 29],
  ['measure failed', 'obligations.read', 'Backups are tried: its test fails', '/obligations', 47],
];

/** How long things stood on Today, what the officer put off and handed on, and when she was here last. */
async function loadToday(demo: Demo): Promise<void> {
  const { tx } = demo;
  const random = new Random(24);
  const kinds = await tx.all(
    z.object({ kind: z.string(), action: z.string(), n: Count }),
    'SELECT kind, action, COUNT(*) AS n FROM today_item GROUP BY kind, action ORDER BY kind, action',
  );
  const days = kinds.flatMap(({ kind, action, n }) => {
    // Some became more in three months, some fewer.
    const drift = (random.below(13) - 6) / 10;
    let items = n;
    return Array.from({ length: DAYS }, (_, i) => {
      const before = i + 1;
      // Nothing changes every day.
      if (before % 6 === 0)
        items = Math.max(0, Math.round(n * (1 + (drift * before) / DAYS)) + random.below(3) - 1);
      return [demo.at(before).toISOString().slice(0, 10), kind, action, items];
    });
  });
  if (days.length > 0) await tx.run('INSERT INTO today_day (day, kind, action, items) VALUES ?', [days]);
  await tx.run('UPDATE today_item SET came_at = since');
  // Loading itself took things off that nobody ever saw.
  await tx.run('DELETE FROM today_past');
  await tx.run('INSERT INTO today_past (kind, item_key, action, words, link, since, ended_at) VALUES ?', [
    DONE.map(([kind, action, words, link, hoursAgo], n) => [
      ...[kind, `past ${n}`, action, words, link],
      ...[toDatetime(demo.at(6)), toDatetime(demo.at(hoursAgo / 24))],
    ]),
  ]);
  const ines = demo.person('Ines Abara');
  await tx.run('INSERT INTO today_visit (account_id, last_at) VALUES (?, ?)', [
    ines,
    toDatetime(demo.at(2.6)),
  ]);
  const open = await tx.all(
    z.object({ kind: z.string(), item_key: z.string(), steady: z.number() }),
    "SELECT kind, item_key, steady FROM today_item WHERE kind IN ('dossier due', 'request due', 'asked by a person') AND due IS NULL AND assigned_to IS NULL ORDER BY kind, item_key LIMIT 2",
  );
  const [later, given] = open;
  if (later)
    await tx.run('INSERT INTO today_put_off (account_id, kind, item_key, until, steady) VALUES (?)', [
      [ines, later.kind, later.item_key, toDatetime(demo.at(-4)), later.steady],
    ]);
  if (given)
    await tx.run('INSERT INTO today_handed (kind, item_key, to_account, by_account, at, words) VALUES (?)', [
      [
        ...[given.kind, given.item_key, demo.person('Lotte Bruun'), ines, toDatetime(demo.at(1))],
        'Call them first: the letter does not say who it is about.',
      ],
    ]);
}

export const DESK: DemoArea = { area: 'desk', load: loadToday };
