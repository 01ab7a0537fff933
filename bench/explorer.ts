import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import { parseLens } from '../src/core/lens/lens-text.ts';
import { LensIndexes, type LensQuestion } from '../src/server/holdings/items/index/lens-index.ts';
import type { Store } from '../src/server/store/pool.ts';
import { figure, median } from './figure.ts';
import { fillItems } from './items.ts';

const ITEMS = Number(process.env['BENCH_ITEMS'] ?? 1_000_000);
const TIMES = 5;

/** Lenses of one to five clauses, of which some hold for most items and some for few. */
const LENSES: readonly (readonly [name: string, line: string, sql: string])[] = [
  ['everything', 'everything', '1 = 1'],
  [
    'one',
    'data one of "email"',
    "EXISTS (SELECT 1 FROM finding f WHERE f.item_id = i.id AND f.rehearsed = 0 AND f.detector = 'email')",
  ],
  [
    'three',
    'place in "1" and changed longer ago than 2 years and people at least 3',
    "i.source_id = 1 AND i.changed_at < '2024-11-29' AND i.people >= 3",
  ],
  [
    'five',
    'data one of "email" and place in "2" and changed within 3 years and people at least 2 and not owner one of "owner 7"',
    "EXISTS (SELECT 1 FROM finding f WHERE f.item_id = i.id AND f.rehearsed = 0 AND f.detector = 'email') AND i.source_id = 2 AND i.changed_at >= '2023-11-29' AND i.people >= 2 AND i.owner <> 'owner 7'",
  ],
];

const One = z.record(z.string(), z.unknown());

/** The same counts, one statement a breakdown. */
async function bySql(store: Store, where: string): Promise<void> {
  const from = `FROM item i WHERE i.state <> 'gone' AND ${where}`;
  await store.all(One, `SELECT COUNT(*) AS n, SUM(i.size) AS b ${from}`);
  for (const column of ['i.source_id', 'i.owner', 'i.format', 'YEAR(i.changed_at)', 'i.document'])
    await store.all(One, `SELECT ${column} AS v, COUNT(*) AS n ${from} GROUP BY v`);
  await store.all(
    One,
    `SELECT i.document, f.detector, COUNT(*) AS n FROM item i JOIN finding f ON f.item_id = i.id AND f.rehearsed = 0 WHERE i.state <> 'gone' AND ${where} GROUP BY 1, 2`,
  );
}

async function main(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
  const [port = 0] = await freePorts(1);
  const database = await startMariadb(folder, port, true);
  try {
    const { store } = await prepareDatabase(database.url);
    await fillItems(store, ITEMS);
    const memory = process.memoryUsage().rss;
    const indexes = new LensIndexes(store);
    let today = '2026-11-29';
    const ask = (line: string, what: LensQuestion['ask']) =>
      indexes.answer({ lens: parseLens(line), today, sources: null, ask: what });
    const begun = performance.now();
    await ask('everything', { what: 'count' });
    figure('explorer', 'index_built', (performance.now() - begun) / 1000, 's');
    figure('explorer', 'index_memory', (process.memoryUsage().rss - memory) / 1e6, 'MB');
    for (const [name, line, sql] of LENSES) {
      const times: { figures: number[]; page: number[] } = { figures: [], page: [] };
      // The first time makes what the question needs.
      await ask(line, { what: 'figures' });
      for (let i = 0; i < TIMES; i++) {
        // Another day each time: what is in the lens is found anew.
        today = `2026-11-${10 + i}`;
        const a = performance.now();
        await ask(line, { what: 'figures' });
        const b = performance.now();
        await ask(line, { what: 'page', order: 'people', after: null, size: 61 });
        times.figures.push(b - a);
        times.page.push(performance.now() - b);
      }
      const sqlBegun = performance.now();
      await bySql(store, sql);
      const sqlMs = performance.now() - sqlBegun;
      figure('explorer', `figures_${name}`, median(times.figures), 'ms');
      figure('explorer', `page_${name}`, median(times.page), 'ms');
      figure('explorer', `sql_to_figures_${name}`, sqlMs / median(times.figures), 'ratio');
    }
    await store.close();
  } finally {
    await database.stop();
    await rm(folder, { recursive: true, force: true });
  }
}

void main();
