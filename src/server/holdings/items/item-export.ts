import type { Account } from '../../../core/accounts/authority.ts';
import type { ItemOrder } from '../../../core/holdings/items/item-figures.ts';
import type { Context } from '../../context.ts';
import { csvLine } from '../../http/csv.ts';
import { everyRow } from '../../store/page.ts';
import { explorerPage, type ListedItemRow } from './explorer.ts';
import { itemNames } from './item-names.ts';

/** Of more, the first are exported; a narrower lens has the rest. */
const MOST = 200_000;

/** The items in a lens as CSV, or as JSON lines. */
export async function exportItems(
  ctx: Context,
  account: Account,
  {
    lens,
    order,
    format,
  }: { readonly lens: string; readonly order: ItemOrder; readonly format: 'csv' | 'jsonl' },
): Promise<string> {
  const { sources, detectors } = await itemNames(ctx.store);
  const nameOf = (id: string) => detectors.get(id) ?? id;
  const lines: string[] = [];
  const plain = (r: ListedItemRow) => ({
    id: r.id,
    source: sources.get(r.source) ?? r.source,
    place: r.place,
    name: r.name,
    format: r.format,
    bytes: r.size,
    changed: r.changed,
    owner: r.owner,
    document: r.document === null ? null : nameOf(r.document),
    people: r.people,
    holds: r.findings.map((f) => ({ detector: f.detector, name: nameOf(f.detector), matches: f.matches })),
    problem: r.problem,
  });
  for await (const row of everyRow((after) =>
    explorerPage(ctx, account, { lens, order, after, size: 500 }),
  )) {
    const p = plain(row);
    lines.push(
      format === 'jsonl'
        ? `${JSON.stringify(p)}\n`
        : csvLine([
            p.id,
            p.source,
            p.place,
            p.name,
            p.format,
            p.bytes,
            p.changed ?? '',
            p.owner,
            p.document ?? '',
            p.people,
            p.holds.map((h) => `${h.name} (${h.matches})`).join('; '),
            p.problem ?? '',
          ]),
    );
    if (lines.length >= MOST) break;
  }
  return (
    (format === 'csv'
      ? csvLine([
          'Id',
          'Source',
          'Place',
          'Name',
          'Format',
          'Bytes',
          'Changed',
          'Owner',
          'Kind of document',
          'People',
          'Holds',
          'Problem',
        ])
      : '') + lines.join('')
  );
}
