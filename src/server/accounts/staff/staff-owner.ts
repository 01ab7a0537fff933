import { z } from 'zod';
import { plainEmail } from '../../../core/accounts/email.ts';
import type { Queries } from '../../store/pool.ts';

/**
 * Who is meant by what sources call owners: an address, a name, or the part of an address before the @ (as machines call
 * their users). What two people could be is nobody's.
 */
export async function staffByOwner(
  store: Queries,
  now: Date,
  owners: readonly string[],
): Promise<ReadonlyMap<string, number>> {
  const asked = owners.filter((o) => o.trim() !== '');
  if (asked.length === 0) return new Map();
  const plain = asked.map(plainEmail);
  const rows = await store.all(
    z.object({ id: z.number(), address: z.string(), name: z.string() }),
    `SELECT id, address, name FROM staff WHERE (left_on IS NULL OR left_on > ?)
     AND (address IN (?) OR name IN (?) OR SUBSTRING_INDEX(address, '@', 1) IN (?))`,
    [now.toISOString().slice(0, 10), plain, asked, plain],
  );
  const found = new Map<string, number>();
  for (const owner of asked) {
    const address = plainEmail(owner);
    const ways = [
      rows.filter((r) => r.address === address),
      rows.filter((r) => r.name.toLowerCase() === owner.trim().toLowerCase()),
      rows.filter((r) => r.address.split('@', 1)[0] === address),
    ];
    const [only, ...others] = ways.find((w) => w.length > 0) ?? [];
    if (only && others.length === 0) found.set(owner, only.id);
  }
  return found;
}
