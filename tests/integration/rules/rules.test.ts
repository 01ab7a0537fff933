import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Json } from '../../../src/core/rules/change.ts';
import type { RuleKind } from '../../../src/server/rules/rule-kind.ts';
import * as edits from '../../../src/server/rules/rule-edits.ts';
import * as moves from '../../../src/server/rules/rule-moves.ts';
import * as store from '../../../src/server/rules/rule-store.ts';
import * as versions from '../../../src/server/rules/rule-versions.ts';
import { OFFICER, testAccount, testContext, unique } from '../context.ts';

const rules = { ...edits, ...moves, ...store, ...versions };
const ctx = testContext();
afterAll(() => ctx.store.close());

interface Berth {
  readonly ship: string;
  readonly metres: number;
}

let object = '';
beforeEach(() => (object = unique('berth')));

const kindOf = (over: Partial<RuleKind<Berth>> = {}): RuleKind<Berth> => ({
  object,
  content: z.strictObject({ ship: z.string().min(1, 'Name the ship'), metres: z.number() }),
  name: (_store, _key, { ship }) => ship,
  place: (_store, key) => `/berths/${key}`,
  vocabulary: async () => ({}),
  ...over,
});
const HALE: Berth = { ship: 'MS Hale', metres: 90 };

const add = (kind: RuleKind<Berth>, key: string, content: Berth) =>
  rules.insertRule(ctx.store, ctx.now(), kind, key, content, OFFICER.id);
const save = (kind: RuleKind<Berth>, key: string, revision: number, base: Berth, content: Berth) =>
  ctx.store.transaction((tx) =>
    rules.saveRuleDraft(tx, ctx.now(), kind, OFFICER.id, key, { revision, base, content }),
  );
const force = (kind: RuleKind<Berth>, key: string, revision: number) =>
  ctx.store.transaction((tx) =>
    rules.moveRule(tx, ctx.now(), kind, OFFICER.id, key, 'put in force', revision),
  );

describe('a rule of any kind', () => {
  it('is listed by its name, which follows its draft, and by its state', async () => {
    const kind = kindOf();
    await add(kind, 'b', HALE);
    await add(kind, 'a', { ship: 'MS Corrie', metres: 70 });
    await force(kind, 'b', 1);
    await save(kind, 'a', 1, { ship: 'MS Corrie', metres: 70 }, { ship: 'MS Zeal', metres: 70 });
    const names = async (states?: Parameters<typeof store.listRules>[2]) =>
      (await rules.listRules(ctx.store, kind, states)).map((r) => r.name);
    expect(await names()).toEqual(['MS Hale', 'MS Zeal']);
    expect(await names(['in force'])).toEqual(['MS Hale']);
    expect(await names(['retired'])).toEqual([]);
    await expect(add(kind, 'a', HALE)).rejects.toMatchObject({ errno: 1062 });
    expect(await rules.listRules(ctx.store, kindOf({ object: unique('other') }))).toEqual([]);
  });

  it('is edited in a transaction of its caller: taken back with it, whole', async () => {
    const kind = kindOf();
    await add(kind, 'a', HALE);
    const failed = ctx.store.transaction(async (tx) => {
      await rules.saveRuleDraft(tx, ctx.now(), kind, OFFICER.id, 'a', {
        revision: 1,
        base: HALE,
        content: { ...HALE, metres: 100 },
      });
      await rules.moveRule(tx, ctx.now(), kind, OFFICER.id, 'a', 'put in force', 2);
      throw new Error('the caller thinks better of it');
    });
    await expect(failed).rejects.toThrow('thinks better');
    expect(await rules.readRule(ctx.store, kind, 'a')).toMatchObject({
      content: HALE,
      revision: 1,
      stage: { state: 'draft' },
      lastVersion: 0,
    });
  });

  it('is no conflict when the same edit arrives twice, and one when another’s does', async () => {
    const account = await testAccount(ctx);
    const kind = kindOf();
    await add(kind, 'a', HALE);
    const longer = { ...HALE, metres: 100 };
    expect(await save(kind, 'a', 1, HALE, longer)).toEqual({ revision: 2 });
    expect(await save(kind, 'a', 1, HALE, longer)).toEqual({ revision: 2 });
    const other = ctx.store.transaction((tx) =>
      rules.saveRuleDraft(tx, ctx.now(), kind, account.id, 'a', {
        revision: 1,
        base: HALE,
        content: { ...HALE, ship: 'MS Corrie' },
      }),
    );
    await expect(other).rejects.toMatchObject({
      status: 409,
      detail: { revision: 2, theirs: longer, merged: { ship: 'MS Corrie', metres: 100 }, collisions: [] },
    });
  });

  it('says what keeps it from being put in force, and goes with its versions when it is removed', async () => {
    const kind = kindOf();
    await add(kind, 'a', { ship: '', metres: 1 });
    await expect(force(kind, 'a', 1)).rejects.toMatchObject({
      fields: [{ field: 'ship', message: 'Name the ship' }],
    });
    await add(kind, 'b', HALE);
    await force(kind, 'b', 1);
    await rules.removeRule(ctx.store, kind, 'b');
    await expect(rules.readRule(ctx.store, kind, 'b')).rejects.toMatchObject({ status: 404 });
    await expect(rules.readRuleVersion(ctx.store, kind, 'b', 1)).rejects.toMatchObject({ status: 404 });
  });
});

describe('a kind whose contents have changed their shape', () => {
  /** First `{ ship, length: '90 m' }`; then `metres` as a number; then with a place. */
  const steps = [
    (c: Json): Json => {
      const { length, ...rest } = c as { length: string };
      return { ...rest, metres: parseInt(length, 10) };
    },
    (c: Json): Json => ({ ...(c as object), place: 'unknown' }) as Json,
  ];

  it('reads drafts and versions of any age, and leaves what was frozen as it was written', async () => {
    const old = {
      object,
      name: () => 'x',
      place: () => '/',
      vocabulary: async () => ({}),
      content: z.custom<Json>(),
    };
    const first: RuleKind<Json> = old;
    await rules.insertRule(ctx.store, ctx.now(), first, 'a', { ship: 'MS Hale', length: '90 m' }, OFFICER.id);
    await ctx.store.transaction((tx) =>
      rules.moveRule(tx, ctx.now(), first, OFFICER.id, 'a', 'put in force', 1),
    );
    const second: RuleKind<Berth> = kindOf({ upgrades: [steps[0]!] });
    expect((await rules.readRule(ctx.store, second, 'a')).content).toEqual(HALE);
    expect(await rules.readRuleVersion(ctx.store, second, 'a', 1)).toEqual(HALE);
    await save(second, 'a', 1, HALE, { ...HALE, metres: 95 });
    await force(second, 'a', 2);
    const third: RuleKind<Berth & { place: string }> = {
      ...old,
      upgrades: steps,
      content: z.strictObject({ ship: z.string(), metres: z.number(), place: z.string() }),
    };
    expect((await rules.readRule(ctx.store, third, 'a')).content).toEqual({
      ...HALE,
      metres: 95,
      place: 'unknown',
    });
    const versions = await rules.listRuleVersions(ctx.store, third, 'a');
    expect(versions.map((v) => [v.version, v.changes.length])).toEqual([
      [2, 1],
      [1, 0],
    ]);
    expect((await rules.versionsUpTo(ctx.store, third, 'a', 2, 9)).map((v) => v.content.metres)).toEqual([
      95, 90,
    ]);
    const [written] = await ctx.store.all(
      z.object({ content: z.string(), shape: z.number() }),
      'SELECT CONCAT(content) AS content, shape FROM rule_version WHERE kind = ? AND version = 1',
      [object],
    );
    expect(written).toEqual({ content: '{"ship":"MS Hale","length":"90 m"}', shape: 1 });
  });
});
