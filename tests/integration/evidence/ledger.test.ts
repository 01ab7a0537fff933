import { afterAll, expect, it } from 'vitest';
import { LedgerVerifier, verifyEntry, writeLine } from '../../../src/core/evidence/ledger.ts';
import {
  exportLedger,
  ledgerState,
  listEntries,
  proveEntry,
  record,
  seal,
} from '../../../src/server/evidence/ledger.ts';
import { verifyWhole } from '../../../src/server/evidence/verify.ts';
import { testContext, unique } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());
const object = unique('thing');
const add = (n: number) =>
  ctx.store.transaction((tx) =>
    record(tx, ctx.now(), {
      actor: 'system',
      action: 'thing.change',
      object,
      objectId: n,
      detail: { n, words: ['6 → 12 months'] },
    }),
  );

async function exported(): Promise<string[]> {
  const lines: string[] = [];
  for await (const line of exportLedger(ctx.store, ctx.now())) lines.push(writeLine(line));
  return lines;
}

function verify(lines: readonly string[]) {
  const verifier = new LedgerVerifier();
  lines.forEach((l) => verifier.push(l));
  return verifier.end();
}

it('is sealed by one of many sealers, and every entry proves itself', async () => {
  const ids: number[] = [];
  for (let i = 0; i < 25; i++) ids.push(await add(i));
  await Promise.all([seal(ctx.store, ctx.now()), seal(ctx.store, ctx.now()), seal(ctx.store, ctx.now())]);
  expect((await ledgerState(ctx.store)).unsealed).toBe(0);
  for (const id of [ids[0]!, ids[24]!])
    expect(verifyEntry((await proveEntry(ctx.store, String(id)))!)).toBe(true);
  expect(await seal(ctx.store, ctx.now())).toBeUndefined();
  expect(await proveEntry(ctx.store, '999999999')).toBeUndefined();
});

it('exports what verifies, and what does not once anything is edited, dropped or moved', async () => {
  await add(100);
  await seal(ctx.store, ctx.now());
  const lines = await exported();
  expect(verify(lines)).toMatchObject({ ok: true });
  const at = lines.findIndex((l) => l.includes('"n":7,'));
  expect(at).toBeGreaterThan(0);
  expect(verify(lines.with(at, lines[at]!.replace('"n":7,', '"n":8,'))).ok).toBe(false);
  expect(verify(lines.toSpliced(at, 1)).ok).toBe(false);
  expect(verify(lines.with(at, lines[at + 1]!).with(at + 1, lines[at]!)).ok).toBe(false);
});

it('finds a change made behind its back in the database', async () => {
  const id = await add(200);
  await seal(ctx.store, ctx.now());
  expect((await verifyWhole(ctx.store, ctx.now())).ok).toBe(true);
  await ctx.store.run("UPDATE ledger_entry SET actor = '7' WHERE id = ?", [id]);
  expect(await verifyWhole(ctx.store, ctx.now())).toMatchObject({
    ok: false,
    why: expect.stringContaining('edited, dropped or moved'),
  });
  await ctx.store.run("UPDATE ledger_entry SET actor = 'system' WHERE id = ?", [id]);
  expect((await verifyWhole(ctx.store, ctx.now())).ok).toBe(true);
});

it('lists newest first, filtered, page by page', async () => {
  const first = await listEntries(ctx.store, { object }, undefined, 20);
  const second = await listEntries(ctx.store, { object }, first.next!, 20);
  const all = [...first.rows, ...second.rows].map((e) => Number(e.id));
  expect(all).toEqual(all.toSorted((a, b) => b - a));
  expect(all.length).toBe(27);
  expect((await listEntries(ctx.store, { object, objectId: '7' }, undefined, 20)).rows).toHaveLength(1);
  expect((await listEntries(ctx.store, { object, to: '2001-01-01' }, undefined, 20)).rows).toEqual([]);
});

it('keeps an entry only if the change it tells of is kept', async () => {
  const before = (await ledgerState(ctx.store)).entries;
  await expect(
    ctx.store.transaction(async (tx) => {
      await record(tx, ctx.now(), { actor: 1, action: 'a.b', object, objectId: 1, detail: {} });
      throw new Error('undone');
    }),
  ).rejects.toThrow();
  expect((await ledgerState(ctx.store)).entries).toBe(before);
});
