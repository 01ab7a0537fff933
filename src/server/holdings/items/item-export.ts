import type { Account } from '../../../core/accounts/authority.ts';
import type { ItemOrder } from '../../../core/holdings/items/item-figures.ts';
import type { Context } from '../../context.ts';
import { csvLine, type Cell } from '../../http/csv.ts';
import { everyRow } from '../../store/page.ts';
import { explorerPage, type ListedItemRow } from './explorer.ts';
import { itemNames } from './item-names.ts';

/** Of more, the first are exported; a narrower lens has the rest, and a report has all. */
const MOST = 200_000;

export const ITEM_COLUMNS = [
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
] as const;

/** An item with names for what it refers to. */
async function plainItem(ctx: Context) {
  const { sources, detectors } = await itemNames(ctx.store);
  const nameOf = (id: string) => detectors.get(id) ?? id;
  return (r: ListedItemRow) => ({
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
}
type PlainItem = ReturnType<Awaited<ReturnType<typeof plainItem>>>;

function itemCells(p: PlainItem): readonly Cell[] {
  return [
    ...[p.id, p.source, p.place, p.name, p.format, p.bytes, p.changed ?? '', p.owner, p.document ?? ''],
    ...[p.people, p.holds.map((h) => `${h.name} (${h.matches})`).join('; '), p.problem ?? ''],
  ];
}

interface Asked {
  readonly lens: string;
  readonly order: ItemOrder;
}

async function* plainItems(ctx: Context, account: Account, asked: Asked): AsyncGenerator<PlainItem> {
  const plain = await plainItem(ctx);
  for await (const row of everyRow((after) => explorerPage(ctx, account, { ...asked, after, size: 500 })))
    yield plain(row);
}

/** The items in a lens, row by row, as `ITEM_COLUMNS` has them. */
export async function* itemLines(
  ctx: Context,
  account: Account,
  asked: Asked,
): AsyncGenerator<readonly Cell[]> {
  for await (const item of plainItems(ctx, account, asked)) yield itemCells(item);
}

/** The items in a lens as CSV, or as JSON lines. */
export async function exportItems(
  ctx: Context,
  account: Account,
  { format, ...asked }: Asked & { readonly format: 'csv' | 'jsonl' },
): Promise<string> {
  const lines: string[] = [];
  for await (const item of plainItems(ctx, account, asked)) {
    lines.push(format === 'jsonl' ? `${JSON.stringify(item)}\n` : csvLine(itemCells(item)));
    if (lines.length >= MOST) break;
  }
  return (format === 'csv' ? csvLine([...ITEM_COLUMNS]) : '') + lines.join('');
}
