import { afterAll, expect, it } from 'vitest';
import { find } from '../../../src/server/desk/find.ts';
import { closeAccessThreads } from '../../../src/server/access/index/ask-access.ts';
import { closeLensThreads } from '../../../src/server/holdings/items/index/ask-lens.ts';
import { touchBlocks } from '../../../src/server/holdings/items/item-blocks.ts';
import { testItem, testSource } from './estate-rows.ts';
import { testAccount, testContext, unique } from '../context.ts';

const ctx = testContext();
afterAll(async () => {
  await closeLensThreads();
  await closeAccessThreads();
  await ctx.store.close();
});

it('finds an item by parts of its name and the name of its source, for those who see it', async () => {
  const source = await testSource(ctx, unique('Port share '));
  const word = unique('Løn');
  const id = await testItem(ctx, source, 'Crew lists');
  await ctx.store.run('UPDATE item SET name = ? WHERE id = ?', [`${word}-2019.pdf`, id]);
  await touchBlocks(ctx.store, [id]);
  const officer = await testAccount(ctx);
  const items = async (text: string, account = officer) =>
    (await find(ctx, account, text)).filter((f) => f.kind === 'item');
  expect(await items(`crew port ${word.toUpperCase().slice(1)}`)).toMatchObject([
    { words: `${word}-2019.pdf`, link: `/holdings/items/${id}` },
  ]);
  expect(
    await items(word, { ...(await testAccount(ctx, 'data steward')), scope: { source: ['0'] } }),
  ).toEqual([]);
  expect(await items(word, await testAccount(ctx, 'site manager'))).toEqual([]);
  await ctx.store.run("UPDATE item SET state = 'gone' WHERE id = ?", [id]);
  await touchBlocks(ctx.store, [id]);
  expect(await items(word)).toEqual([]);
});

it('finds people with an account, roles and figures for those who may know of them', async () => {
  const person = await testAccount(ctx);
  const kinds = async (text: string, account = person) => [
    ...new Set((await find(ctx, account, text)).map((f) => f.kind)),
  ];
  expect(await kinds(person.email)).toContain('account');
  expect(await kinds('auditor')).toContain('role');
  expect(await kinds('readiness')).toContain('figure');
  expect(await kinds(person.email, await testAccount(ctx, 'site manager'))).not.toContain('account');
  expect(await kinds('readiness', await testAccount(ctx, 'request handler'))).not.toContain('account');
});
