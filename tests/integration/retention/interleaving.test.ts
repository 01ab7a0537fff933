import { readdirSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, expect, it } from 'vitest';
import { z } from 'zod';
import { HOLD } from '../../../src/server/retention/holds/holds.ts';
import { endAside } from '../../../src/server/retention/disposal/aside.ts';
import { DISPOSAL_RUN } from '../../../src/server/retention/disposal/disposal-run.ts';
import { gatherDue } from '../../../src/server/retention/disposal/gather.ts';
import { keepFromDisposal, sayToDisposal } from '../../../src/server/retention/disposal/say.ts';
import { makeException } from '../../../src/server/retention/exceptions/exceptions.ts';
import { KEPT } from '../../../src/core/retention/rules/exception.ts';
import { RefusedError } from '../../../src/core/refusal.ts';
import { RETENTION_RULE } from '../../../src/server/retention/rules/retention-rules.ts';
import { Random } from '../../../demo/random.ts';
import { disposals, heldFiles, hold, move, retentionTest, rule, type RetentionTest } from './retention.ts';

let test: RetentionTest;
beforeAll(async () => {
  test = await retentionTest('yare_interleaving');
}, 60_000);
afterAll(() => test.close());

const FOLDERS = ['a', 'b', 'c'];
const EACH = 8;

/** What of a round lies in its folders now. */
function there(round: number, folder: string): ReadonlySet<string> {
  return new Set(readdirSync(join(test.root, `r${round}`, folder)));
}

const settled = async (work: Promise<unknown>) => {
  try {
    await work;
  } catch (error) {
    // What came too late, or has to be said by somebody else, is refused; nothing else may happen.
    if (!(error instanceof RefusedError)) throw error;
  }
};
const pause = (ms: number) => new Promise((done) => setTimeout(done, ms));

it.each(Array.from({ length: 12 }, (_, seed) => seed))(
  'whatever comes in whichever order, nothing goes that is held by then, nor goes twice, nor is lost (%d)',
  { timeout: 60_000 },
  async (seed) => {
    const { ctx, officer, source } = test;
    const random = new Random(9000 + seed);
    const files = FOLDERS.flatMap((f) => Array.from({ length: EACH }, (_, i) => `r${seed}/${f}/${i}.txt`));
    const items = await heldFiles(
      test,
      files.map((path) => ({ path, changed: '2019-03-01' })),
    );
    const id = await rule(
      test,
      {
        ...{ places: [`${source}/r${seed}`], keep: { count: 1, unit: 'years' }, then: 'ask', agree: 'one' },
        undoDays: random.pick([0, 3]),
      },
      'put in force',
    );
    await gatherDue(ctx);
    const disposal = (await disposals(test)).find((d) => d.rule_id === id);
    if (!disposal) throw new Error('Nothing was gathered.');
    /** What was there at the moment in which somebody had it kept. */
    const kept = new Set<string>();
    const keep = (names: Iterable<string>, folder: string) => {
      for (const name of names) kept.add(`r${seed}/${folder}/${name}`);
    };
    const step = async () => {
      const row = await ctx.store.one(
        z.object({ state: z.string() }),
        'SELECT state FROM disposal WHERE id = ?',
        [disposal.id],
      );
      if (row?.state === 'agreed')
        await DISPOSAL_RUN.step(ctx, {
          plan: { disposal: disposal.id },
          part: String(source),
          place: null,
          run: {} as never,
          signal: new AbortController().signal,
        });
    };
    const worker = async () => {
      for (let i = 0; i < 6; i++) {
        await pause(random.below(25));
        await step();
      }
    };
    const placeHold = async (folder: string) => {
      await pause(random.below(60));
      const made = await hold(test, { places: [`${source}/r${seed}/${folder}`] });
      await move(test, HOLD, made, 'put in force');
      keep(there(seed, folder), folder);
    };
    const except = async (folder: string) => {
      await pause(random.below(60));
      const some = [0, 1, 2].map((i) => items.get(`r${seed}/${folder}/${i}.txt`) ?? 0);
      await settled(
        makeException(ctx, officer, some, { content: KEPT, reason: 'asked', until: null }).then(() =>
          keep(
            [0, 1, 2].map((i) => `${i}.txt`).filter((name) => there(seed, folder).has(name)),
            folder,
          ),
        ),
      );
    };
    const takeOut = async (folder: string) => {
      await pause(random.below(30));
      const who = { address: 'tove@line.example', name: 'Tove', account: null };
      await settled(
        keepFromDisposal(ctx, who, disposal.id, [items.get(`r${seed}/${folder}/7.txt`) ?? 0], {
          reason: 'asked',
          until: null,
        }).then(({ kept: n }) => n > 0 && keep(['7.txt'], folder)),
      );
    };
    const agree = async () => {
      await pause(random.below(20));
      await settled(
        sayToDisposal(ctx, { address: officer.email, name: 'O', account: officer.id }, disposal.id, {
          agrees: true,
          reason: '',
          until: null,
        }),
      );
    };
    const retire = async () => {
      await pause(40 + random.below(60));
      await move(test, RETENTION_RULE, id, 'retire');
      for (const folder of FOLDERS)
        keep(
          [...there(seed, folder)].filter(() => false),
          folder,
        );
    };
    const [first, second] = random.chance(0.5) ? ['a', 'b'] : ['b', 'c'];
    await Promise.all([
      agree(),
      worker(),
      worker(),
      placeHold(first),
      ...(random.chance(0.5) ? [except(second)] : []),
      ...(random.chance(0.5) ? [takeOut('a')] : []),
      ...(random.chance(0.25) ? [retire()] : []),
    ]);
    for (let i = 0; i < 8; i++) await step();
    await endAside(ctx);
    const left = new Set(FOLDERS.flatMap((f) => [...there(seed, f)].map((name) => `r${seed}/${f}/${name}`)));
    for (const path of kept) expect(left, `${path} was kept, and is gone`).toContain(path);
    const rows = await ctx.store.all(
      z.object({ item_id: z.number(), state: z.string(), copy: z.number().nullable(), item: z.string() }),
      `SELECT d.item_id, d.state, c.id AS copy, i.state AS item FROM disposal_item d JOIN item i ON i.id = d.item_id
       LEFT JOIN kept_copy c ON c.id = d.copy_id WHERE d.disposal_id = ?`,
      [disposal.id],
    );
    // The record tells of each file what became of it: gone and told so, or there and whole.
    for (const path of files) {
      const row = rows.find((r) => r.item_id === items.get(path));
      const isGone = row?.state === 'gone' || row?.state === 'aside';
      expect(isGone, `${path}: ${row?.state ?? 'no row'}`).toBe(!left.has(path));
      expect(row?.item === 'gone', path).toBe(isGone);
      if (row?.state === 'aside') expect(row.copy, path).not.toBeNull();
      expect(row?.state, path).not.toBe('begun');
    }
    expect(readdirSync(join(test.root, `r${seed}`)).sort()).toEqual(FOLDERS);
  },
);
