import { z } from 'zod';
import { MOST_ROWS, REST_KEY, type FigureRow } from '../../../core/figures/figure-row.ts';
import { Bytes, Count, JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { keyText } from '../keys.ts';

const Row = z.object({
  id: Count,
  name: z.string(),
  kind: z.string(),
  place: z.coerce.string(),
  who: z.coerce.string().nullable(),
  place_key: Bytes.nullable(),
  who_key: Bytes.nullable(),
  detail: JsonColumn(z.looseObject({ link: z.string().nullish() })),
});

/** What was found too broad in one way, as rows of a figure that counted `all` of it. */
export async function findingRows(store: Queries, kind: string, all: number): Promise<readonly FigureRow[]> {
  const rows = await store.all(
    Row,
    `SELECT id, name, kind, place, who, place_key, who_key, detail FROM access_finding
     WHERE kind = ?${kind === 'wide' ? " AND JSON_VALUE(detail, '$.mark') = 1" : ''} ORDER BY weight DESC, id LIMIT ${MOST_ROWS}`,
    [kind === 'wide' ? 'exposed' : kind],
  );
  const met = new Map<string, number>();
  const named = rows.map((r): FigureRow => {
    const own = [r.place_key, r.who_key]
      .map((k) => (k ? keyText(k) : ''))
      .join(' ')
      .trim();
    const base = `${own || r.name}${r.detail.link ? ` ${r.detail.link}` : ''}`.slice(0, 180);
    const times = (met.get(base) ?? 0) + 1;
    met.set(base, times);
    return {
      key: times === 1 ? base : `${base} ${times}`,
      name: r.name,
      n: 1,
      parts: {},
      link: r.place_key
        ? `/access/places/${keyText(r.place_key)}`
        : r.who_key
          ? `/access/people/${keyText(r.who_key)}`
          : '/access/broad',
    };
  });
  const rest = all - named.length;
  return rest > 0 ? [...named, { key: REST_KEY, name: `${rest} more`, n: rest, link: '', parts: {} }] : named;
}
