import { z } from 'zod';
import { may, type Account } from '../core/accounts/authority.ts';
import type { Context } from './context.ts';

/** One thing Find can lead to. */
export interface Found {
  readonly kind: 'site' | 'tracker' | 'ledger';
  readonly words: string;
  readonly detail: string;
  readonly link: string;
}

/** Objects whose name holds `text`, a few of each kind, of those the account may see. */
export async function find(ctx: Context, account: Account, text: string): Promise<Found[]> {
  const like = `%${text.replace(/[\\%_]/g, '\\$&')}%`;
  const found: Found[] = [];
  if (may(account, 'websites.read')) {
    const sites = await ctx.store.all(
      z.object({ host: z.string(), name: z.string() }),
      'SELECT host, name FROM site WHERE host LIKE ? OR name LIKE ? ORDER BY id LIMIT 8',
      [like, like],
    );
    found.push(
      ...sites.map((s): Found => ({
        kind: 'site',
        words: s.host,
        detail: s.name,
        link: `/websites/${encodeURIComponent(s.host)}`,
      })),
    );
    const trackers = await ctx.store.all(
      z.object({ id: z.number(), name: z.string(), host: z.string(), site: z.string() }),
      'SELECT t.id, t.name, t.host, s.host AS site FROM tracker t JOIN site s ON s.id = t.site_id WHERE t.name LIKE ? OR t.host LIKE ? ORDER BY t.last_seen DESC LIMIT 8',
      [like, like],
    );
    found.push(
      ...trackers.map((t): Found => ({
        kind: 'tracker',
        words: t.name,
        detail: `${t.host}, on ${t.site}`,
        link: `/websites/${encodeURIComponent(t.site)}?tracker=${t.id}`,
      })),
    );
  }
  if (may(account, 'ledger.read') && /^\d+$/.test(text))
    found.push({
      kind: 'ledger',
      words: `Ledger entry ${text}`,
      detail: 'Evidence',
      link: `/evidence/ledger?entry=${text}`,
    });
  return found;
}
