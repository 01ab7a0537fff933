import { z } from 'zod';
import type { DisposalCertificate } from '../../../core/retention/disposal/certificate.ts';
import { BigId } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';

/** What a certificate lists, at most. */
const MOST = 5000;

const Copy = z.object({
  item: BigId.transform(Number),
  of: BigId.transform(Number),
  source: z.string(),
  source_id: z.number(),
  path: z.string(),
  name: z.string(),
  inside: z.string().nullable(),
});
type Copy = z.infer<typeof Copy>;

/** Items that hold the same bytes as one of a disposal, whole or within them, and do not stand in it. */
async function copyRows(store: Queries, disposal: string, most: number): Promise<readonly Copy[]> {
  const columns = (inside: string) =>
    `c.id AS item, d.item_id AS \`of\`, s.name AS source, c.source_id, p.path, COALESCE(c.title, c.name) AS name, ${inside} AS inside`;
  const joined = `JOIN source s ON s.id = c.source_id JOIN place p ON p.id = c.place_id
    WHERE d.disposal_id = ? AND c.id <> d.item_id AND c.state <> 'gone'
      AND NOT EXISTS (SELECT 1 FROM disposal_item o WHERE o.disposal_id = d.disposal_id AND o.item_id = c.id AND o.state NOT IN ('kept', 'failed', 'back'))`;
  return store.all(
    Copy,
    `SELECT ${columns('NULL')} FROM disposal_item d JOIN item i ON i.id = d.item_id
       JOIN item c ON c.content_hash = COALESCE(d.hash, i.content_hash) ${joined}
     UNION SELECT ${columns('t.name')} FROM disposal_item d JOIN item i ON i.id = d.item_id
       JOIN item_part t ON t.hash = COALESCE(d.hash, i.content_hash) JOIN item c ON c.id = t.item_id ${joined}
     ORDER BY item, \`of\` LIMIT ?`,
    [disposal, disposal, most],
  );
}

/** Copies of what is gone, as a certificate lists them: where, and never by name. */
export async function copiesOf(store: Queries, disposal: string): Promise<DisposalCertificate['copies']> {
  const gone = await store.all(
    z.object({ item_id: BigId.transform(Number) }),
    "SELECT item_id FROM disposal_item WHERE disposal_id = ? AND state = 'gone'",
    [disposal],
  );
  const isGone = new Set(gone.map((g) => g.item_id));
  return (await copyRows(store, disposal, MOST))
    .filter((c) => isGone.has(c.of))
    .map(({ item, of, source, inside }) => ({
      item,
      of,
      where: source,
      ...(inside === null ? {} : { inside: true as const }),
    }));
}

/** A copy of something in a disposal, which the disposal does not touch. */
export interface KnownCopy {
  readonly item: number;
  readonly name: string;
  readonly place: string;
  /** What it is called within the item that holds it; null where the item is the copy. */
  readonly inside: string | null;
}

const SHOWN = 50;

/** The first of them; in sources that somebody may look at. */
export async function knownCopies(
  store: Queries,
  disposal: string,
  sees: (source: number) => boolean,
): Promise<{ readonly copies: readonly KnownCopy[]; readonly more: boolean }> {
  const rows = (await copyRows(store, disposal, MOST)).filter((c) => sees(c.source_id));
  return {
    copies: rows.slice(0, SHOWN).map(({ item, name, source, path, inside }) => ({
      item,
      name,
      place: [source, ...path.split('/').filter(Boolean)].join(' / '),
      inside,
    })),
    more: rows.length > SHOWN,
  };
}
