import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import { EVERYTHING } from '../src/core/lens/lens.ts';
import { LensIndexes } from '../src/server/holdings/items/index/lens-index.ts';
import { likeText } from '../src/server/store/like-text.ts';
import { figure, median } from './figure.ts';
import { fillItems } from './items.ts';

const ITEMS = Number(process.env['BENCH_ITEMS'] ?? 1_000_000);
const TIMES = 7;
const GOAL_MS = 150;

async function main(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
  const [port = 0] = await freePorts(1);
  const database = await startMariadb(folder, port, true);
  try {
    const { store } = await prepareDatabase(database.url);
    await fillItems(store, ITEMS);
    const memory = process.memoryUsage().rss;
    const indexes = new LensIndexes(store);
    const ask = (text: string) =>
      indexes.answer({
        ...{ lens: EVERYTHING, today: '2026-12-02', sources: null, mayBeOld: true },
        ask: { what: 'find', text, most: 20, names: { 1: 'Port share', 2: 'Crew share' } },
      });
    const begun = performance.now();
    await ask('first');
    figure('find', 'index_built', (performance.now() - begun) / 1000, 's');
    figure('find', 'index_memory', (process.memoryUsage().rss - memory) / 1e6, 'MB');
    const [some] = await store.all(
      z.object({ name: z.string(), path: z.string() }),
      'SELECT i.name, p.path FROM item i JOIN place p ON p.id = i.place_id WHERE i.id = ?',
      [Math.floor(ITEMS / 2)],
    );
    const name = some?.name ?? 'a';
    const texts: readonly (readonly [string, string])[] = [
      ['name', name],
      ['part', name.slice(2, 7)],
      ['two_words', `${some?.path.split('/').at(-1) ?? ''} ${name.slice(0, 5)}`],
      ['letter', 'e'],
      ['nothing', 'zzqqxx'],
    ];
    for (const [words, text] of texts) {
      const times: number[] = [];
      const sql: number[] = [];
      for (let n = 0; n < TIMES; n++) {
        const start = performance.now();
        await ask(text);
        times.push(performance.now() - start);
        const from = performance.now();
        await store.all(
          z.object({ id: z.unknown() }),
          'SELECT id FROM item WHERE name LIKE ? ORDER BY name LIMIT 20',
          [likeText(text)],
        );
        sql.push(performance.now() - from);
      }
      const [mine, theirs] = [median(times), median(sql)];
      figure('find', `${words}_of_goal_${GOAL_MS}ms`, mine, 'ms');
      figure('find', `like_to_${words}`, theirs / mine, 'ratio');
    }
    await store.close();
  } finally {
    await database.stop();
    await rm(folder, { recursive: true, force: true });
  }
}

await main();
