import { appendFileSync, readFileSync, writeFileSync } from 'node:fs';
import { join } from 'node:path';
import { afterAll, beforeAll, beforeEach, describe, expect, it } from 'vitest';
import { z } from 'zod';
import type { Account } from '../../../src/core/accounts/authority.ts';
import { rootOfItems, verifyCertificate } from '../../../src/core/retention/disposal/certificate.ts';
import { todayItems } from '../../../src/server/desk/today.ts';
import { seal } from '../../../src/server/evidence/ledger.ts';
import { endAside } from '../../../src/server/retention/disposal/aside.ts';
import { putBack } from '../../../src/server/retention/disposal/put-back.ts';
import { provenCertificate } from '../../../src/server/retention/disposal/certify.ts';
import { certificatePdf } from '../../../src/server/retention/disposal/certificate-pdf.ts';
import { disposalItems, viewDisposal } from '../../../src/server/retention/disposal/disposals.ts';
import { gatherDue } from '../../../src/server/retention/disposal/gather.ts';
import {
  answerForTheSilent,
  keepFromDisposal,
  sayToDisposal,
} from '../../../src/server/retention/disposal/say.ts';
import { retentionOfItem } from '../../../src/server/retention/items/item-retention.ts';
import { HOLD } from '../../../src/server/retention/holds/holds.ts';
import { RETENTION_RULE } from '../../../src/server/retention/rules/retention-rules.ts';
import type { RetentionRuleDraft } from '../../../src/core/retention/rules/retention-rule.ts';
import { testAccount } from '../context.ts';
import { agreeTo, beginDisposal, letAllGo, speaker, YES } from './disposing.ts';
import {
  became,
  disposals,
  exists,
  heldFiles,
  hold,
  move,
  retentionTest,
  TODAY,
  type RetentionTest,
} from './retention.ts';

let test: RetentionTest;
let second: Account;
beforeAll(async () => {
  test = await retentionTest('yare_disposal');
  second = await testAccount(test.ctx, 'records manager');
}, 60_000);
afterAll(() => test.close());

const begin = (old: readonly string[], more: Partial<RetentionRuleDraft> = {}) =>
  beginDisposal(test, old, more);
const agree = (id: string, by = test.officer) => agreeTo(test, id, by);
const letGo = (workers = 1) => letAllGo(test, workers);

beforeEach(() => test.at(TODAY));

describe('a disposal', () => {
  it('holds what is due by a rule, goes once it is agreed to, and is certified', async () => {
    const { disposal, path, item, rule: id } = await begin(['a.txt', 'b.txt']);
    if (!disposal) throw new Error('Nothing was gathered.');
    expect(disposal).toMatchObject({ state: 'asked', items: 2, needed: 1 });
    const waits = async () =>
      (await todayItems(test.ctx, test.officer)).filter(
        (t) => t.kind === 'disposal waits' && t.key === disposal.id,
      );
    expect((await waits())[0]?.words).toMatch(
      /^2 items of “R .*” wait for the word of nobody known, in share/,
    );
    await letGo();
    expect([exists(test, path('a.txt')), exists(test, path('b.txt'))]).toEqual([true, true]);
    expect(await agree(disposal.id)).toEqual({ state: 'agreed', missing: 0 });
    expect(await waits()).toEqual([]);
    await letGo();
    expect(['a.txt', 'b.txt', 'new.txt'].map((f) => exists(test, path(f)))).toEqual([false, false, true]);
    await expect(provenCertificate(test.ctx, disposal.id)).rejects.toMatchObject({ status: 409 });
    await endAside(test.ctx);
    const unproven = await provenCertificate(test.ctx, disposal.id);
    expect(unproven.proof).toBeNull();
    await seal(test.ctx.store, test.ctx.now());
    const proven = await provenCertificate(test.ctx, disposal.id);
    expect(verifyCertificate(proven)).toMatchObject({ ok: true, items: 2 });
    const { certificate } = proven;
    expect(certificate).toMatchObject({
      rule: { id, version: 1 },
      agreed: [{ name: 'Test Person' }],
      counts: { gone: 2, kept: 0, failed: 0, back: 0 },
      copies: [],
    });
    expect(certificate.items.map((i) => i.item)).toEqual([item('a.txt'), item('b.txt')]);
    expect(certificate.root).toBe(rootOfItems(certificate.items));
    // By hash and count, never by name.
    expect(JSON.stringify(certificate)).not.toMatch(/a\.txt|b\.txt/);
    expect(
      Buffer.from(await certificatePdf(proven))
        .subarray(0, 5)
        .toString(),
    ).toBe('%PDF-');
    // What was gathered once is not gathered again.
    test.at('2026-11-30');
    await gatherDue(test.ctx);
    expect((await disposals(test)).filter((d) => d.rule_id === id)).toHaveLength(1);
  });

  it('goes on over as many steps as its items need', async () => {
    const names = Array.from({ length: 95 }, (_, i) => `many ${i}.txt`);
    const { disposal, path } = await begin(names);
    if (!disposal) throw new Error('Nothing was gathered.');
    await agree(disposal.id);
    await letGo();
    expect(names.filter((name) => exists(test, path(name)))).toEqual([]);
    expect((await disposals(test)).find((d) => d.id === disposal.id)?.state).toBe('done');
  });

  it('lists copies of the same bytes that stay', async () => {
    const { disposal, folder } = await begin(['a.txt']);
    const [copy] = (
      await heldFiles(test, [
        { path: 'elsewhere/copy.txt', changed: '2026-11-01', text: `old ${folder} a.txt` },
      ])
    ).values();
    await agree(disposal!.id);
    await letGo();
    await endAside(test.ctx);
    const { certificate } = await provenCertificate(test.ctx, disposal!.id);
    expect(certificate.copies).toEqual([
      { item: copy, of: certificate.items[0]?.item, where: expect.any(String) as string },
    ]);
    expect(exists(test, 'elsewhere/copy.txt')).toBe(true);
  });

  it('needs two people where the rule says so, never one twice', async () => {
    const { disposal, path } = await begin(['a.txt'], { agree: 'two' });
    expect(await agree(disposal!.id)).toEqual({ state: 'asked', missing: 1 });
    await expect(agree(disposal!.id)).rejects.toMatchObject({ status: 409 });
    await letGo();
    expect(exists(test, path('a.txt'))).toBe(true);
    const officerAgain = {
      ...speaker(test.officer),
      address: test.officer.email.toUpperCase(),
      account: null,
    };
    await expect(sayToDisposal(test.ctx, officerAgain, disposal!.id, YES)).rejects.toMatchObject({
      status: 409,
    });
    expect(await agree(disposal!.id, second)).toEqual({ state: 'agreed', missing: 0 });
    await expect(agree(disposal!.id, second)).rejects.toMatchObject({ status: 409 });
  });

  it('needs two where there are many, or special data is among them', async () => {
    await test.ctx.store.run("UPDATE retention_policy SET content = JSON_SET(content, '$.large', 3)");
    const [many, few] = [
      await begin(['a', 'b', 'c'], { agree: 'large' }),
      await begin(['a', 'b'], { agree: 'large' }),
    ];
    expect([many.disposal?.needed, few.disposal?.needed]).toEqual([2, 1]);
    await test.ctx.store.run("UPDATE retention_policy SET content = JSON_SET(content, '$.large', 100)");
  });

  it('that one does not agree to stays, for the reason and the time that were given', async () => {
    const { disposal, path, item, rule: id } = await begin(['a.txt', 'b.txt']);
    await expect(
      sayToDisposal(test.ctx, speaker(second), disposal!.id, { agrees: false, reason: ' ', until: null }),
    ).rejects.toMatchObject({ fields: [{ field: 'reason' }] });
    const no = { agrees: false, reason: 'the audit needs them', until: '2026-12-31' };
    expect((await sayToDisposal(test.ctx, speaker(second), disposal!.id, no)).state).toBe('refused');
    const verdict = await retentionOfItem(test.ctx, item('a.txt'));
    expect(verdict).toMatchObject({ state: 'kept', goes: null, exceptions: [{ until: '2026-12-31' }] });
    expect(verdict.exceptions[0]?.reason).toMatch(/the audit needs them/);
    test.at('2026-12-31');
    await gatherDue(test.ctx);
    expect((await disposals(test)).filter((d) => d.rule_id === id)).toHaveLength(1);
    // The day after, rules decide again.
    test.at('2027-01-01');
    await gatherDue(test.ctx);
    expect((await disposals(test)).filter((d) => d.rule_id === id).map((d) => d.state)).toEqual([
      'refused',
      'asked',
    ]);
    expect(exists(test, path('a.txt'))).toBe(true);
  });

  it('goes on without items that were taken out of it', async () => {
    const { disposal, path, item } = await begin(['a.txt', 'b.txt', 'c.txt']);
    const out = await keepFromDisposal(test.ctx, speaker(second), disposal!.id, [item('b.txt'), 999_999], {
      reason: 'a complaint',
      until: null,
    });
    expect(out).toEqual({ kept: 1, left: 2 });
    await agree(disposal!.id);
    await letGo();
    expect(['a.txt', 'b.txt', 'c.txt'].map((f) => exists(test, path(f)))).toEqual([false, true, false]);
    expect((await viewDisposal(test.ctx.store, disposal!.id)).counts).toEqual({ gone: 2, kept: 1 });
    const kept = await disposalItems(test.ctx.store, disposal!.id, { size: 10, state: 'kept' });
    expect(kept.rows).toMatchObject([{ name: 'b.txt', why: 'Test Person: a complaint' }]);
  });

  it('is not answered by whoever owns another one', async () => {
    const { disposal } = await begin(['a.txt']);
    const stranger = { ...speaker(second), account: null, staff: 4711 };
    await expect(sayToDisposal(test.ctx, stranger, disposal!.id, YES)).rejects.toMatchObject({ status: 404 });
  });

  it.each([
    ['officer', 'asked', 1],
    ['delete', 'agreed', 1],
    ['keep', 'refused', 1],
    // Silence is one word: the other is wanted still.
    ['delete', 'asked', 2],
  ] as const)('without an answer goes to %s: %s, where it needs %d', async (silent, state, needed) => {
    const { disposal, rule: id } = await begin(['a.txt'], {
      silent,
      answerDays: 5,
      agree: needed === 2 ? 'two' : 'one',
    });
    test.at('2026-12-03');
    await answerForTheSilent(test.ctx);
    expect((await disposals(test)).find((d) => d.id === disposal!.id)?.state).toBe('asked');
    test.at('2026-12-05');
    await answerForTheSilent(test.ctx);
    expect((await disposals(test)).find((d) => d.id === disposal!.id)?.state).toBe(state);
    await answerForTheSilent(test.ctx);
    if (silent !== 'keep') return;
    test.at('2026-12-11');
    await gatherDue(test.ctx);
    expect((await disposals(test)).filter((d) => d.rule_id === id)).toHaveLength(2);
  });

  it('goes by itself where a rule asks nobody', async () => {
    const { disposal, path } = await begin(['a.txt'], { then: 'delete', agree: 'one' });
    expect(disposal?.state).toBe('agreed');
    await letGo();
    expect(exists(test, path('a.txt'))).toBe(false);
  });
});

describe('at the moment it goes', () => {
  it('an item that was changed since stays', async () => {
    const { disposal, path, item } = await begin(['a.txt', 'b.txt']);
    await agree(disposal!.id);
    appendFileSync(join(test.root, path('a.txt')), ', and more');
    await letGo();
    expect([exists(test, path('a.txt')), exists(test, path('b.txt'))]).toEqual([true, false]);
    expect((await became(test)).get(item('a.txt'))).toMatchObject({
      state: 'kept',
      why: 'It was changed since it was looked at.',
    });
  });

  it('an item that a hold covers by now stays, though it was agreed to', async () => {
    const { disposal, path, item, folder } = await begin(['a.txt', 'in/b.txt']);
    await agree(disposal!.id);
    await hold(test, { name: 'Collision', places: [`${test.source}/${folder}/in`] }, 'put in force');
    await letGo();
    expect([exists(test, path('a.txt')), exists(test, path('in/b.txt'))]).toEqual([false, true]);
    expect((await became(test)).get(item('in/b.txt'))).toMatchObject({
      state: 'kept',
      why: 'It is held by “Collision”.',
    });
  });

  it('what another version of the rule would say differently stays', async () => {
    const { disposal, path, rule: id, item } = await begin(['a.txt']);
    await agree(disposal!.id);
    await test.ctx.store.run(
      "UPDATE rule SET content = JSON_SET(content, '$.keep.count', 3), revision = revision + 1 WHERE kind = 'retention rule' AND id = ?",
      [id],
    );
    await move(test, RETENTION_RULE, id, 'put in force');
    await letGo();
    expect(exists(test, path('a.txt'))).toBe(true);
    expect((await became(test)).get(item('a.txt'))?.why).toBe(
      'Another rule, or another version of it, decides by now.',
    );
  });

  it('what cannot go is told, stays, and needs a hand', async () => {
    const { disposal, path, item } = await begin(['a.txt', 'b.txt']);
    await agree(disposal!.id);
    writeFileSync(join(test.root, path('link')), '');
    const { linkSync } = await import('node:fs');
    linkSync(join(test.root, path('a.txt')), join(test.root, path('second-name')));
    await letGo();
    expect(exists(test, path('a.txt'))).toBe(true);
    expect((await became(test)).get(item('a.txt'))).toMatchObject({
      state: 'failed',
      why: 'It has other names (hard links), which would keep it.',
    });
    const told = (await todayItems(test.ctx, test.officer)).filter((t) => t.kind === 'disposal failed');
    expect(told.map((t) => t.words)).toContainEqual(
      expect.stringMatching(/^1 item of .* could not be let go, and is there still$/),
    );
  });
});

describe('what was put aside', () => {
  it('can be put back to the byte as long as the rule says, and not after', async () => {
    const { disposal, path, item } = await begin(['a.txt', 'b.txt'], { undoDays: 5 });
    const before = readFileSync(join(test.root, path('a.txt')));
    await agree(disposal!.id);
    await letGo();
    expect((await viewDisposal(test.ctx.store, disposal!.id)).counts).toEqual({ aside: 2 });
    expect(await putBack(test.ctx, test.officer, disposal!.id, [item('a.txt')])).toEqual({
      back: 1,
      left: [],
    });
    expect(readFileSync(join(test.root, path('a.txt'))).equals(before)).toBe(true);
    const row = await test.ctx.store.one(
      z.object({ state: z.string() }),
      'SELECT state FROM item WHERE id = ?',
      [item('a.txt')],
    );
    expect(row?.state).toBe('read');
    test.at('2026-12-03');
    await endAside(test.ctx);
    expect((await viewDisposal(test.ctx.store, disposal!.id)).counts).toEqual({ aside: 1, back: 1 });
    test.at('2026-12-05');
    await endAside(test.ctx);
    expect((await viewDisposal(test.ctx.store, disposal!.id)).counts).toEqual({ gone: 1, back: 1 });
    await expect(putBack(test.ctx, test.officer, disposal!.id, undefined)).rejects.toMatchObject({
      status: 409,
    });
    const { certificate } = await provenCertificate(test.ctx, disposal!.id);
    expect(certificate.counts).toMatchObject({ gone: 1, back: 1 });
    expect(certificate.items.map((i) => i.item)).toEqual([item('b.txt')]);
    const copies = await test.ctx.store.one(
      z.object({ n: z.number() }),
      'SELECT COUNT(*) AS n FROM kept_copy',
    );
    expect(copies?.n).toBe(0);
  });

  it('is not put over what has its name by now', async () => {
    const { disposal, path } = await begin(['a.txt'], { undoDays: 5 });
    await agree(disposal!.id);
    await letGo();
    writeFileSync(join(test.root, path('a.txt')), 'something new');
    expect(await putBack(test.ctx, test.officer, disposal!.id, undefined)).toEqual({
      back: 0,
      left: ['a.txt: something else has its name by now.'],
    });
    expect(readFileSync(join(test.root, path('a.txt')), 'utf8')).toBe('something new');
  });

  it('is put back once, whoever else asks for it at the same moment', async () => {
    const { disposal, path } = await begin(['a.txt', 'b.txt', 'c.txt'], { undoDays: 5 });
    await agree(disposal!.id);
    await letGo();
    const asked = await Promise.all(
      [1, 2, 3].map(() => putBack(test.ctx, test.officer, disposal!.id, undefined)),
    );
    expect(asked.reduce((n, a) => n + a.back, 0)).toBe(3);
    expect(['a.txt', 'b.txt', 'c.txt'].map((f) => exists(test, path(f)))).toEqual([true, true, true]);
    expect((await viewDisposal(test.ctx.store, disposal!.id)).counts).toEqual({ back: 3 });
  });

  it('does not end while it is put back, and is settled where whoever did that died', async () => {
    const files = ['back.txt', 'not.txt', 'other.txt'];
    const { disposal, path, folder } = await begin(files, { undoDays: 5 });
    await agree(disposal!.id);
    await letGo();
    await test.ctx.store.run('UPDATE disposal_item SET claim = ?, at = ? WHERE disposal_id = ?', [
      Buffer.alloc(16, 7),
      '2026-12-05 11:55:00',
      disposal!.id,
    ]);
    // One was put back before its worker died, one was not, and one has its name taken by something else.
    writeFileSync(join(test.root, path('back.txt')), `old ${folder} back.txt`);
    writeFileSync(join(test.root, path('other.txt')), 'something new');
    test.at('2026-12-05');
    await endAside(test.ctx);
    expect((await viewDisposal(test.ctx.store, disposal!.id)).counts).toEqual({ aside: 3 });
    await expect(provenCertificate(test.ctx, disposal!.id)).rejects.toMatchObject({ status: 409 });
    test.at('2026-12-06');
    await endAside(test.ctx);
    expect((await viewDisposal(test.ctx.store, disposal!.id)).counts).toEqual({ gone: 2, back: 1 });
    const { certificate } = await provenCertificate(test.ctx, disposal!.id);
    expect(certificate.counts).toMatchObject({ gone: 2, back: 1 });
    expect(readFileSync(join(test.root, path('other.txt')), 'utf8')).toBe('something new');
  });

  it('is kept on where a hold covers it meanwhile, and goes once that is released', async () => {
    const { disposal, folder } = await begin(['a.txt'], { undoDays: 5 });
    await agree(disposal!.id);
    await letGo();
    const id = await hold(test, { places: [`${test.source}/${folder}`] }, 'put in force');
    test.at('2026-12-20');
    await endAside(test.ctx);
    expect((await viewDisposal(test.ctx.store, disposal!.id)).counts).toEqual({ aside: 1 });
    await move(test, HOLD, id, 'retire');
    test.at('2027-02-20');
    await endAside(test.ctx);
    expect((await viewDisposal(test.ctx.store, disposal!.id)).counts).toEqual({ gone: 1 });
  });
});
