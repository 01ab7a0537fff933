import { afterAll, beforeAll, beforeEach, expect, it } from 'vitest';
import { z } from 'zod';
import { todayItems } from '../../../src/server/desk/today.ts';
import { listReviews, answerReview } from '../../../src/server/retention/review/reviews.ts';
import { remindOfReviews } from '../../../src/server/retention/review/remind-reviews.ts';
import { RETENTION_RULE } from '../../../src/server/retention/rules/retention-rules.ts';
import { openText } from '../../../src/server/secret.ts';
import { testAccount } from '../context.ts';
import { bound, move, retentionTest, rule, TODAY, type RetentionTest } from './retention.ts';

let test: RetentionTest;
beforeAll(async () => {
  test = await retentionTest('yare_reviews');
  // Reads the schedule, and is not written to.
  await testAccount(test.ctx, 'auditor');
}, 60_000);
afterAll(() => test.close());
beforeEach(() => test.at(TODAY));

const keep = { count: 2, unit: 'years' } as const;
const mails = async () =>
  (
    await test.ctx.store.all(
      z.object({ content: z.string() }),
      "SELECT content FROM outgoing_message WHERE object = 'retention policy' ORDER BY id",
    )
  ).map((m) => JSON.parse(openText(test.ctx.settings.SECRET_KEY, m.content)) as { to: string });
const onToday = async () =>
  (await todayItems(test.ctx, test.officer)).filter((t) => t.kind === 'review due').map((t) => t.words);

it('is due a year after a rule was put in force, is reminded of step by step, and answered on record', async () => {
  const { officer } = test;
  const ctx = { ...test.ctx, settings: { ...test.ctx.settings, SMTP_URL: 'smtp://127.0.0.1:1' } };
  const id = await rule(test, { name: 'Manifests', keep, then: 'ask' }, 'put in force');
  const law = await bound(test, { name: 'Bookkeeping Act', keep }, 'put in force');
  await rule(test, { name: 'A draft', keep });
  expect(await listReviews(ctx.store, ctx.now())).toMatchObject([
    { kind: 'bound', id: law, due: '2027-11-30', waits: null, last: null },
    { kind: 'retention rule', id, name: 'Manifests', due: '2027-11-30', version: 1, last: null },
  ]);
  await remindOfReviews(ctx);
  expect([await mails(), await onToday()]).toEqual([[], []]);
  for (const [day, letters] of [
    ['2027-10-31', 1],
    ['2027-11-01', 1],
    ['2027-11-24', 2],
    ['2027-11-30', 3],
    ['2027-12-01', 3],
    ['2027-12-15', 4],
  ] as const) {
    test.at(day);
    // Twice, as after a death in the middle.
    await remindOfReviews(ctx);
    await remindOfReviews(ctx);
    expect(await mails(), day).toHaveLength(letters);
    expect(await onToday()).toEqual(['2 rules of the schedule have to be looked at again']);
  }
  expect(new Set((await mails()).map((m) => m.to))).toEqual(new Set([officer.email]));

  const of = { kind: 'retention rule', id, version: 1 };
  await expect(
    answerReview(ctx, officer, { ...of, version: 2 }, { answer: 'stands', reason: '' }),
  ).rejects.toMatchObject({ status: 409 });
  await expect(
    answerReview(ctx, officer, { ...of, kind: 'hold' }, { answer: 'stands', reason: '' }),
  ).rejects.toMatchObject({ status: 404 });
  await answerReview(ctx, officer, of, { answer: 'change', reason: 'The directive was replaced.' });
  await remindOfReviews(ctx);
  expect(await onToday()).toEqual(['“Bookkeeping Act” has to be looked at again']);
  const [first, second] = await listReviews(ctx.store, ctx.now());
  expect(first).toMatchObject({ id: law, due: '2027-11-30', waits: 'late' });
  expect(second).toMatchObject({
    due: '2028-12-16',
    last: { answer: 'change', reason: 'The directive was replaced.', name: officer.name },
  });
  const entry = await ctx.store.one(
    z.object({ n: z.coerce.number() }),
    "SELECT COUNT(*) AS n FROM ledger_entry WHERE action = 'retention rule.review' AND object_id = ?",
    [id],
  );
  expect(entry?.n).toBe(1);
  // One that is put in force anew, or taken out of force, is not late any more.
  await answerReview(ctx, officer, { kind: 'bound', id: law, version: 1 }, { answer: 'stands', reason: '' });
  await move(test, RETENTION_RULE, id, 'retire');
  await remindOfReviews(ctx);
  expect(await onToday()).toEqual([]);
  expect((await listReviews(ctx.store, ctx.now())).map((r) => r.id)).toEqual([law]);
});
