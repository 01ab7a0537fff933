import { randomBytes } from 'node:crypto';
import { afterAll, expect, it } from 'vitest';
import { z } from 'zod';
import { keepCopy, readCopy, removeCopy } from '../../../src/server/holdings/items/kept-copy.ts';
import { Bytes } from '../../../src/server/store/columns.ts';
import { testContext } from '../context.ts';

const ctx = testContext();
afterAll(() => ctx.store.close());

const until = new Date(Date.now() + 86_400_000);
const keep = (bytes: Uint8Array) => ctx.store.transaction((tx) => keepCopy(tx, ctx, bytes, until));

it.each([0, 1, 3_999_999, 4_000_000, 9_000_001])(
  'a document of %d bytes is read back as it was',
  async (size) => {
    const bytes = randomBytes(size);
    const id = await keep(bytes);
    expect(Buffer.from((await readCopy(ctx, id))!).equals(bytes)).toBe(true);
    await removeCopy(ctx.store, id);
    expect(await readCopy(ctx, id)).toBeUndefined();
  },
);

it('a copy is sealed, and of no use without the key, or once a bit of it was changed', async () => {
  const secret = 'CPR 010180-1234 '.repeat(40);
  const id = await keep(Buffer.from(secret));
  const [row] = await ctx.store.all(
    z.object({ content: Bytes }),
    'SELECT content FROM kept_copy_part WHERE copy_id = ?',
    [id],
  );
  expect(row!.content.includes('010180')).toBe(false);
  const other = { ...ctx, settings: { ...ctx.settings, SECRET_KEY: 'cd'.repeat(32) } };
  expect(await readCopy(other, id)).toBeUndefined();
  const changed = Buffer.from(row!.content);
  changed[40] = (changed[40] ?? 0) ^ 1;
  await ctx.store.run('UPDATE kept_copy_part SET content = ? WHERE copy_id = ?', [changed, id]);
  expect(await readCopy(ctx, id)).toBeUndefined();
});
