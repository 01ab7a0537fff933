import { createHmac, randomInt } from 'node:crypto';
import type { Context } from '../../context.ts';
import { toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

const MANY = 10;
const SIGNS = 'ABCDEFGHIJKLMNOPQRSTUVWXYZ234567';
const LONG = 16;

const hashOf = (ctx: Context, account: number, code: string) =>
  createHmac('sha256', Buffer.from(ctx.settings.SECRET_KEY, 'hex'))
    .update(`recovery ${account} ${code}`)
    .digest();

/** Codes for when the second factor is lost, each good once, in place of those before; told this once. */
export async function newRecoveryCodes(
  tx: Queries,
  ctx: Context,
  account: number,
): Promise<readonly string[]> {
  const codes = Array.from({ length: MANY }, () =>
    Array.from({ length: LONG }, () => SIGNS[randomInt(SIGNS.length)]).join(''),
  );
  await tx.run('DELETE FROM recovery_code WHERE account_id = ?', [account]);
  await tx.run('INSERT INTO recovery_code (account_id, code_hash, made_at) VALUES ?', [
    codes.map((code) => [account, hashOf(ctx, account, code), toDatetime(ctx.now())]),
  ]);
  return codes;
}

/** Whether this is one that was not used yet; it is used now. */
export async function takeRecoveryCode(ctx: Context, account: number, code: string): Promise<boolean> {
  const { changed } = await ctx.store.run(
    'UPDATE recovery_code SET used_at = ? WHERE account_id = ? AND code_hash = ? AND used_at IS NULL',
    [toDatetime(ctx.now()), account, hashOf(ctx, account, code)],
  );
  return changed === 1;
}
