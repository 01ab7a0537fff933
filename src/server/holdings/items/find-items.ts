import { z } from 'zod';
import type { Account } from '../../../core/accounts/authority.ts';
import { EVERYTHING } from '../../../core/lens/lens.ts';
import type { Context } from '../../context.ts';
import type { Found } from '../../desk/found.ts';
import { BigId, Instant } from '../../store/columns.ts';
import { askLens } from './index/ask-lens.ts';

const MOST = 12;

const Source = z.object({ id: BigId, name: z.string() });
const Row = z.object({
  id: BigId,
  name: z.string(),
  source: z.string(),
  path: z.string(),
  changed_at: Instant.nullable(),
});

/** Items by words of their name and place, in any order, of the sources that somebody sees. */
export async function findItemsByName(
  ctx: Context,
  text: string,
  account: Account,
): Promise<readonly Found[]> {
  const sources = await ctx.store.all(Source, 'SELECT id, name FROM source');
  const found = await askLens(ctx, {
    lens: EVERYTHING,
    today: ctx.now().toISOString().slice(0, 10),
    sources: account.scope?.['source'] ?? null,
    mayBeOld: true,
    ask: {
      ...{ what: 'find', text, most: MOST },
      names: Object.fromEntries(sources.map((s) => [s.id, s.name])),
    },
  });
  if (found.length === 0) return [];
  const rows = await ctx.store.all(
    Row,
    `SELECT i.id, COALESCE(i.title, i.name) AS name, s.name AS source, p.path, i.changed_at FROM item i
     JOIN place p ON p.id = i.place_id JOIN source s ON s.id = i.source_id WHERE i.id IN (?) AND i.state <> 'gone'`,
    [found.map((f) => f.id)],
  );
  const byId = new Map(rows.map((r) => [Number(r.id), r]));
  return found.flatMap(({ id }) => {
    const row = byId.get(id);
    return row
      ? [
          {
            ...{ kind: 'item', words: row.name, link: `/holdings/items/${id}` },
            detail: [row.source, row.path, row.changed_at?.slice(0, 10)].filter(Boolean).join(' · '),
          },
        ]
      : [];
  });
}
