import { z } from 'zod';
import type { Context } from '../../context.ts';
import { isToken, newToken, tokenHash } from '../mailed-token.ts';
import { Instant, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** The last step of an address at which a vendor answers; kept as a hash alone. Older ones open nothing any more. */
export async function makeVendorLink(tx: Queries, vendor: number, until: Date): Promise<string> {
  const token = newToken();
  await endVendorLinks(tx, vendor);
  await tx.run('INSERT INTO vendor_link (token_hash, vendor_id, until_on) VALUES (?)', [
    [tokenHash(token), vendor, toDatetime(until)],
  ]);
  return token;
}

/** The vendor of a link that opens still. */
export async function openVendorLink(
  store: Queries,
  { now }: Pick<Context, 'now'>,
  token: string,
): Promise<number | undefined> {
  if (!isToken(token)) return undefined;
  const row = await store.one(
    z.object({ vendor_id: z.number(), until_on: Instant }),
    'SELECT vendor_id, until_on FROM vendor_link WHERE token_hash = ?',
    [tokenHash(token)],
  );
  return row && row.until_on >= now().toISOString() ? row.vendor_id : undefined;
}

export async function endVendorLinks(tx: Queries, vendor: number): Promise<void> {
  await tx.run('DELETE FROM vendor_link WHERE vendor_id = ?', [vendor]);
}
