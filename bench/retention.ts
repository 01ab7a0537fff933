import { mkdtemp, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { z } from 'zod';
import { prepareDatabase } from '../launcher/database-command.ts';
import { freePorts } from '../launcher/free-port.ts';
import { startMariadb } from '../launcher/mariadb.ts';
import { EVERYTHING } from '../src/core/lens/lens.ts';
import { parseLens } from '../src/core/lens/lens-text.ts';
import type { Period } from '../src/core/retention/clock/period.ts';
import { FRESH_MS, LensIndexes } from '../src/server/holdings/items/index/lens-index.ts';
import {
  RetentionAnswers,
  type RetentionQuestion,
  type SentWeighed,
} from '../src/server/retention/rehearsal/retention-answers.ts';
import type { Store } from '../src/server/store/pool.ts';
import { figure, median } from './figure.ts';
import { fillItems } from './items.ts';

const ITEMS = Number(process.env['BENCH_ITEMS'] ?? 1_000_000);
const TIMES = 5;

const LINES = [
  'everything',
  'document one of "iban"',
  'people at least 4',
  'data one of "email" and people at least 2',
  'owner one of "owner 7", "owner 8" and not document one of "vin"',
] as const;

/** Forty rules, twelve bounds and twenty holds, on conditions and places of every width. */
function weighed(): SentWeighed {
  const scope = (i: number) => {
    const line = LINES[i % LINES.length] ?? 'everything';
    const places =
      [[], [`${1 + (i % 8)}`], [`*/folder ${i % 40}`], [`${1 + (i % 8)}/folder ${i % 40}`]][i % 4] ?? [];
    return { lens: parseLens(line), places, wide: line === 'everything' };
  };
  const term = (i: number) => ({
    period: {
      count: 1 + (i % 9),
      unit: (['years', 'months', 'days'] as const)[i % 3] ?? 'years',
    } satisfies Period,
    clock: { after: 'changed', yearEnd: i % 5 === 0, unknown: 'never begins' as const },
  });
  const many = <T>(n: number, of: (i: number) => T) => Array.from({ length: n }, (_, i) => of(i));
  return {
    zone: 'Europe/Copenhagen',
    rules: many(40, (i) => ({ id: `${i}`, scope: scope(i), ...term(i), then: 'ask' as const, order: null })),
    bounds: many(12, (i) => ({
      id: `${i}`,
      scope: scope(i + 1),
      ...term(i + 2),
      kind: i % 2 === 0 ? ('minimum' as const) : ('maximum' as const),
    })),
    holds: many(20, (i) => ({
      id: `${i}`,
      scope: scope(i + 2),
      from: '2020-01-01',
      until: `202${i % 6}-12-31`,
    })),
    exceptions: [],
    events: [],
  };
}

const Raw = z.custom<Record<string, unknown>>();

/** The same rows, read in one piece and looked at one by one: what nothing that judges items can do without. */
async function bareScan(store: Store): Promise<number> {
  let n = 0;
  for (let from = 0; from < ITEMS; from += 65_536)
    for (const row of await store.all(
      Raw,
      'SELECT id, source_id, place_id, created_at, changed_at, owner, document, people FROM item WHERE id BETWEEN ? AND ?',
      [from, from + 65_535],
    ))
      if (row['changed_at'] !== null) n++;
  return n;
}

async function main(): Promise<void> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-bench-'));
  const [port = 0] = await freePorts(1);
  const database = await startMariadb(folder, port, true);
  try {
    const { store } = await prepareDatabase(database.url);
    await fillItems(store, ITEMS);
    const indexes = new LensIndexes(store, new Map([['retention', new RetentionAnswers()]]));
    const all = weighed();
    const timed = async (work: () => Promise<unknown>) => {
      const begun = performance.now();
      await work();
      return performance.now() - begun;
    };
    const rehearse = (change: number, ask: RetentionQuestion['ask'] = { what: 'totals' }) => {
      // Another rule each time: every verdict is made anew.
      const rules = all.rules.map((r, i) => (i === 0 ? { ...r, order: change } : r));
      const question: RetentionQuestion = { weighed: { ...all, rules }, today: '2026-11-29', ask };
      return indexes.answer({
        lens: EVERYTHING,
        today: '2026-11-29',
        sources: null,
        ask: { what: 'area', area: 'retention', question },
      });
    };
    const cold = await timed(() => rehearse(1));
    const [scans, rehearsals]: [number[], number[]] = [[], []];
    for (let i = 0; i < TIMES; i++) {
      scans.push(await timed(() => bareScan(store)));
      rehearsals.push(await timed(() => rehearse(2 + i)));
    }
    const scan = median(scans);
    figure('retention', 'bare_scan', scan / 1000, 's');
    figure('retention', 'rehearsal', median(rehearsals) / 1000, 's');
    figure('retention', 'rehearsal_to_scan', median(rehearsals) / scan, 'ratio');
    figure('retention', 'rehearsal_from_nothing_to_scan', cold / scan, 'ratio');
    // The next day, with nothing changed; and with items of one block, of one in ten, of all.
    await rehearse(99);
    figure('retention', 'night_nothing_changed', await timed(() => rehearse(99)), 'ms');
    const blocks = Math.ceil(ITEMS / 65_536);
    for (const share of [1, Math.ceil(blocks / 4), blocks]) {
      await store.run('UPDATE item_block SET revision = revision + 1 WHERE block < ?', [share]);
      // Asked sooner, it would answer from what it read shortly before, and read what changed behind that.
      await new Promise((done) => setTimeout(done, FRESH_MS + 100));
      figure(
        'retention',
        `night_${share}_of_${blocks}_blocks_changed`,
        await timed(() => rehearse(99)),
        'ms',
      );
    }
    await store.close();
  } finally {
    await database.stop();
    await rm(folder, { recursive: true, force: true });
  }
}

void main();
