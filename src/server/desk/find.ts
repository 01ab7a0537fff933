import { z } from 'zod';
import { may, type Account } from '../../core/accounts/authority.ts';
import { KIND_WORDS } from '../../core/holdings/detection/detector/own-detector.ts';
import type { Context } from '../context.ts';
import { listSets } from '../holdings/detection/labelled/labelled-sets.ts';
import { listOwnDetectors } from '../holdings/detection/detectors/own-detectors.ts';
import { listBuiltIn } from '../holdings/detection/detectors/trial.ts';

/** One thing Find can lead to. */
export interface Found {
  readonly kind: 'site' | 'tracker' | 'detector' | 'labelled set' | 'ledger';
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
  if (may(account, 'holdings.read')) {
    const own = await listOwnDetectors(ctx.store);
    const lower = text.toLowerCase();
    const named = [
      ...own.map((d) => ({ ...d, detail: `${d.stage.state} · ${KIND_WORDS[d.kind]}` })),
      ...listBuiltIn().map((d) => ({ ...d, detail: `ships with Yare Warden · ${d.category}` })),
    ].filter((d) => d.name.toLowerCase().includes(lower) || d.id.includes(lower));
    const sets = (await listSets(ctx.store)).filter((s) => s.name.toLowerCase().includes(lower));
    found.push(
      ...named.slice(0, 8).map((d): Found => ({
        kind: 'detector',
        words: d.name,
        detail: d.detail,
        link: `/holdings/detectors/${encodeURIComponent(d.id)}`,
      })),
      ...sets.slice(0, 4).map((s): Found => ({
        kind: 'labelled set',
        words: s.name,
        detail: `${s.texts} texts`,
        link: `/holdings/sets/${s.id}`,
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
