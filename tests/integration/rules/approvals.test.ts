import { afterAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { listEntries } from '../../../src/server/evidence/ledger.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { latestApproval } from '../../../src/server/rules/approval-store.ts';
import {
  askToAgree,
  sayAgreed,
  whoCouldAgree,
  withdrawApproval,
} from '../../../src/server/rules/approvals.ts';
import type { RuleKind } from '../../../src/server/rules/rule-kind.ts';
import { saveRuleDraft } from '../../../src/server/rules/rule-edits.ts';
import { moveRule } from '../../../src/server/rules/rule-moves.ts';
import { insertRule, readRule } from '../../../src/server/rules/rule-store.ts';
import { viewRule } from '../../../src/server/rules/rule-view.ts';
import type { Act } from '../../../src/core/rules/rule.ts';
import { testAccount, testContext, unique } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

interface Berth {
  readonly ship: string;
}

let kind: RuleKind<Berth>;
let author: Account, other: Account, third: Account, auditor: Account;
const of = () => ({ kind: kind as RuleKind<unknown>, force: 'holdings.put-in-force' as const, key: 'a' });

beforeEach(async () => {
  const object = unique('berth');
  kind = {
    object,
    content: z.strictObject({ ship: z.string().min(1) }),
    name: (_store, _key, { ship }) => ship,
    place: (_store, key) => `/berths/${key}`,
    text: async (_store, _key, { ship }) => `Let it to ${ship}.`,
    vocabulary: async () => ({}),
  };
  [author, other, third] = (await Promise.all([1, 2, 3].map(() => testAccount(ctx)))) as [
    Account,
    Account,
    Account,
  ];
  auditor = await testAccount(ctx, 'auditor');
  await insertRule(ctx.store, ctx.now(), kind, 'a', { ship: 'MS Hale' }, author.id);
  await needs(1);
});

const needs = (needed: number) =>
  ctx.store.run(
    'INSERT INTO approval_policy (kind, needed) VALUES (?, ?) ON DUPLICATE KEY UPDATE needed = VALUES(needed)',
    [kind.object, needed],
  );
const move = (by: Account, act: Act['act'], revision: number) =>
  ctx.store.transaction((tx) => moveRule(tx, ctx.now(), kind, by.id, 'a', act, revision));
const edit = (by: Account, revision: number, base: string, ship: string) =>
  ctx.store.transaction((tx) =>
    saveRuleDraft(tx, ctx.now(), kind, by.id, 'a', { revision, base: { ship: base }, content: { ship } }),
  );
const ask = (by: Account, people: readonly Account[], revision = 1) =>
  askToAgree(ctx, by, of(), { revision, people: people.map((p) => p.id), reason: 'Summer sailings' });
const say = async (by: Account, agrees: boolean) =>
  sayAgreed(ctx, by, of(), {
    approval: (await latestApproval(ctx.store, kind.object, 'a'))?.id ?? '0',
    agrees,
    reason: agrees ? 'It fits' : 'Not yet',
  });
const asked = async (who: Account) =>
  (await todayItems(ctx, who)).filter((i) => i.words.includes(kind.object)).map((i) => i.kind);
const stage = async () => (await readRule(ctx.store, kind, 'a')).stage;

describe('what others have to agree to', () => {
  it('is put in force by their yes, not by whoever wrote it', async () => {
    await expect(move(author, 'put in force', 1)).rejects.toMatchObject({ status: 409 });
    expect(await stage()).toEqual({ state: 'draft' });
    await ask(author, [other]);
    expect(await asked(other)).toEqual(['approval']);
    expect(await asked(third)).toEqual([]);
    expect((await viewRule(ctx.store, kind, 'a')).waiting).toBe('Let it to MS Hale.');
    expect(await say(other, true)).toMatchObject({
      state: 'agreed',
      people: [{ name: other.name, agrees: true }],
    });
    expect(await stage()).toMatchObject({ state: 'in force', version: 1 });
    expect(await asked(other)).toEqual([]);
    const { rows } = await listEntries(ctx.store, { object: kind.object, objectId: 'a' }, undefined, 20);
    expect(rows.map((r) => r.action.split('.')[1]).toReversed()).toEqual(['ask', 'agree', 'put-in-force']);
    expect(rows[1]?.detail).toMatchObject({ version: 1, reason: 'It fits' });
  });

  it('needs as many as are said, and one no ends it', async () => {
    await needs(2);
    await expect(ask(author, [other])).rejects.toMatchObject({
      fields: [{ field: 'people', message: 'Ask 2 people at least.' }],
    });
    await ask(author, [other, third]);
    expect((await say(other, true)).state).toBe('open');
    expect(await asked(other)).toEqual([]);
    await expect(say(other, true)).rejects.toThrow('You agreed already.');
    expect((await say(third, false)).state).toBe('refused');
    expect(await stage()).toEqual({ state: 'draft' });
    expect(await asked(author)).toEqual(['approval refused']);
    await expect(say(third, true)).rejects.toThrow('it was refused');
  });

  it('is not asked of whoever wrote part of it, may not put it in force, or asks', async () => {
    await edit(other, 1, 'MS Hale', 'MS Corrie');
    const why = Object.fromEntries(
      (await whoCouldAgree(ctx.store, of(), third.id)).map((p) => [p.id, p.why]),
    );
    expect([author.id, other.id, third.id].map((id) => why[id])).toEqual([
      'wrote part of it',
      'wrote part of it',
      'asks for it',
    ]);
    expect(why[auditor.id]).toBeUndefined();
    for (const [who, fault] of [
      [other, `${other.name} wrote part of it.`],
      [third, `${third.name} asks for it.`],
      [auditor, 'One of them may not put it in force.'],
    ] as const)
      await expect(ask(third, [who], 2)).rejects.toMatchObject({
        fields: [{ field: 'people', message: fault }],
      });
    expect(await latestApproval(ctx.store, kind.object, 'a')).toBeUndefined();
  });

  it('is not agreed to by those who wrote what was rehearsed before, or a version that was not agreed to', async () => {
    await move(author, 'rehearse', 1);
    await edit(other, 1, 'MS Hale', 'MS Corrie');
    const why = async () =>
      Object.fromEntries((await whoCouldAgree(ctx.store, of(), third.id)).map((p) => [p.id, p.why]));
    expect((await why())[author.id]).toBe('wrote part of it');
    const fourth = await testAccount(ctx);
    await expect(ask(third, [author], 2)).rejects.toMatchObject({ fields: [{ field: 'people' }] });
    await ask(third, [fourth], 2);
    await edit(third, 2, 'MS Corrie', 'MS Brindle');
    // The draft still holds what the first two wrote, since none of it is in force.
    await expect(ask(fourth, [author], 3)).rejects.toMatchObject({ fields: [{ field: 'people' }] });
    await say(fourth, true);
    expect((await why())[author.id]).toBe('');
  });

  it('is not asked of somebody who does not look after it', async () => {
    kind = { ...kind, within: () => [{ kind: 'site', id: '7' }] };
    await ctx.store.run("UPDATE account_role SET role = 'site manager' WHERE account_id IN (?)", [
      [other.id, third.id],
    ]);
    for (const [id, site] of [
      [other.id, '7'],
      [third.id, '8'],
    ])
      await ctx.store.run("INSERT INTO account_scope VALUES (?, 'site', ?)", [id ?? 0, site ?? '']);
    const force = 'websites.put-in-force' as const;
    const why = Object.fromEntries(
      (await whoCouldAgree(ctx.store, { ...of(), force }, author.id)).map((p) => [p.id, p.why]),
    );
    expect([other.id, third.id].map((id) => why[id])).toEqual(['', 'does not look after it']);
  });

  it('stays the version that was asked for, whatever becomes of the draft', async () => {
    await ask(author, [other]);
    await edit(author, 1, 'MS Hale', 'MS Brindle');
    await say(other, true);
    expect(await stage()).toMatchObject({ state: 'in force', version: 1 });
    await expect(move(author, 'put in force', 2)).rejects.toMatchObject({ status: 409 });
    expect(await stage()).toMatchObject({ version: 1 });
  });

  it.each<[string, () => Promise<unknown>, string]>([
    [
      'something newer was asked for',
      () => edit(author, 1, 'MS Hale', 'MS Corrie').then(() => ask(author, [other], 2)),
      'open',
    ],
    [
      'it was withdrawn',
      async () =>
        withdrawApproval(ctx, author, of(), (await latestApproval(ctx.store, kind.object, 'a'))?.id ?? ''),
      'withdrawn',
    ],
    [
      'the rule went another way',
      () => edit(author, 1, 'MS Hale', 'MS Corrie').then(() => move(author, 'rehearse', 2)),
      'overtaken',
    ],
  ])('cannot be agreed to once %s', async (_, happens, state) => {
    const first = await ask(author, [other]);
    await happens();
    expect(await latestApproval(ctx.store, kind.object, 'a')).toMatchObject({ state });
    await expect(
      sayAgreed(ctx, other, of(), { approval: first.id, agrees: true, reason: 'x' }),
    ).rejects.toMatchObject({ status: 409 });
    expect((await stage()).state).not.toBe('in force');
  });

  it('may be rehearsed while it waits', async () => {
    await ask(author, [other]);
    await move(author, 'rehearse', 1);
    await move(author, 'end rehearsal', 1);
    await move(author, 'rehearse', 1);
    expect((await say(other, true)).state).toBe('agreed');
    expect(await stage()).toMatchObject({ state: 'in force', version: 1 });
  });

  it('is answered once where two answer at once, and by those who were asked', async () => {
    await needs(2);
    await ask(author, [other, third]);
    await expect(say(author, true)).rejects.toMatchObject({ status: 403 });
    const ends = await Promise.allSettled([say(other, true), say(third, true), say(other, true)]);
    expect(ends.filter((e) => e.status === 'fulfilled')).toHaveLength(2);
    expect(await stage()).toMatchObject({ state: 'in force', version: 1 });
  });

  it('is not put in force where it would not be whole any more', async () => {
    await ask(author, [other]);
    const strict = { ...kind, blocks: async () => [{ field: 'ship', message: 'That ship is sold.' }] };
    const approval = (await latestApproval(ctx.store, kind.object, 'a'))?.id ?? '';
    await expect(
      sayAgreed(
        ctx,
        other,
        { ...of(), kind: strict as RuleKind<unknown> },
        { approval, agrees: true, reason: 'x' },
      ),
    ).rejects.toMatchObject({ fields: [{ message: 'That ship is sold.' }] });
    expect(await latestApproval(ctx.store, kind.object, 'a')).toMatchObject({
      state: 'open',
      people: [{ agrees: null }],
    });
  });

  it('may be put in force again without asking', async () => {
    await ask(author, [other]);
    await say(other, true);
    await move(author, 'pause', 1);
    await move(author, 'resume', 1);
    await move(author, 'retire', 1);
    await move(author, 'reopen', 1);
    expect(await move(author, 'put in force', 1)).toMatchObject({ state: 'in force', version: 1 });
  });

  it('is nobody’s business where nobody has to agree', async () => {
    await needs(0);
    await expect(ask(author, [other])).rejects.toMatchObject({ status: 409 });
    expect(await move(author, 'put in force', 1)).toMatchObject({ state: 'in force' });
  });
});
