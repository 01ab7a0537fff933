import { z } from 'zod';
import { FINDING_KINDS, type FindingKind } from '../../../core/access/breadth/breadth.ts';
import { FINDING_LIST } from '../../../core/access/breadth/finding-list.ts';
import type { Context } from '../../context.ts';
import { replaceOnToday, type NewItem } from '../../desk/today.ts';
import { listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { Bytes, Count, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { askAccess } from '../index/ask-access.ts';
import type { NamedFinding } from '../index/breadth-answers.ts';
import { keyText } from '../keys.ts';
import { WHOLE_ESTATE } from '../whole-estate.ts';
import { exposuresOf } from './exposures.ts';

const Round = z.object({
  round: Count,
  revision: Count,
  day: z.string(),
  counted_at: Instant,
  counts: JsonColumn(z.record(z.string(), z.number())),
});
export type BreadthRound = z.infer<typeof Round>;

/** Items move without the estate, and many at once while they are surveyed: it is counted again after so long. */
const AGAIN_MS = 60_000;
const MOST_KEPT = 20_000;
const AT_ONCE = 1000;

export function lastRound(store: Queries): Promise<BreadthRound | undefined> {
  return store.one(
    Round,
    'SELECT round, revision, day, counted_at, counts FROM access_finding_round WHERE id = 1',
  );
}

/** Counts anew what is too broad, once something changed or some time has passed. */
export async function findBreadth(ctx: Context): Promise<void> {
  const { revision, regions } = await askAccess(ctx, 'regions', {});
  const day = ctx.now().toISOString().slice(0, 10);
  const last = await lastRound(ctx.store);
  const items = await itemsRevision(ctx.store);
  if (revision === 0) return;
  if (last?.revision === revision && last.day === day) {
    const isRecent = ctx.now().getTime() - Date.parse(last.counted_at) < AGAIN_MS;
    if (last.counts['itemsRevision'] === items || isRecent) return;
  }
  const exposures = await exposuresOf(
    ctx,
    regions.map((r) => [r.place, r.holds]),
    false,
  );
  // Numbers of places are those of the revision they were asked of.
  const again = await askAccess(ctx, 'regions', {});
  if (again.revision !== revision) return;
  const findings = (await askAccess(ctx, 'findings', { exposures })).toSorted((a, b) => b.weight - a.weight);
  await ctx.store.transaction((tx) => keepFindings(tx, ctx, { revision, day, items }, findings));
}

/** Differs once any item does. */
async function itemsRevision(store: Queries): Promise<number> {
  const row = await store.one(z.object({ n: Count }), 'SELECT SUM(revision) AS n FROM item_block');
  return row?.n ?? 0;
}

async function keepFindings(
  tx: Queries,
  ctx: Context,
  { revision, day, items }: { readonly revision: number; readonly day: string; readonly items: number },
  findings: readonly NamedFinding[],
): Promise<void> {
  await tx.run(
    "INSERT INTO access_finding_round (id, round, revision, day, counted_at, counts) VALUES (1, 0, 0, ?, ?, '{}') ON DUPLICATE KEY UPDATE id = id",
    [day, toDatetime(ctx.now())],
  );
  const [before] = await tx.all(
    z.object({ round: Count }),
    'SELECT round FROM access_finding_round WHERE id = 1 FOR UPDATE',
  );
  const round = (before?.round ?? 0) + 1;
  await tx.run('DELETE FROM access_finding');
  for (let at = 0; at < Math.min(findings.length, MOST_KEPT); at += AT_ONCE)
    await tx.run(
      'INSERT INTO access_finding (round, kind, weight, place, place_key, who, who_key, name, detail) VALUES ?',
      [
        findings.slice(at, Math.min(at + AT_ONCE, MOST_KEPT)).map((f) => [
          ...[round, f.kind, f.weight, f.place],
          f.placeKey === null ? null : Buffer.from(f.placeKey, 'base64url'),
          f.who,
          f.whoKey === null ? null : Buffer.from(f.whoKey, 'base64url'),
          f.name.slice(0, 500),
          JSON.stringify({
            path: f.path,
            counts: f.counts,
            data: f.data.slice(0, 8),
            link: f.link,
            mark: f.mark,
          }),
        ]),
      ],
    );
  const counts: Record<string, number> = {
    marks: findings.filter((f) => f.mark).length,
    itemsRevision: items,
  };
  for (const f of findings) counts[f.kind] = (counts[f.kind] ?? 0) + 1;
  counts['wide'] = findings.filter((f) => f.kind === 'exposed' && f.mark).length;
  await tx.run(
    'UPDATE access_finding_round SET round = ?, revision = ?, day = ?, counted_at = ?, counts = ? WHERE id = 1',
    [round, revision, day, toDatetime(ctx.now()), JSON.stringify(counts)],
  );
  await replaceOnToday(tx, 'access breadth', todayItems(ctx, findings));
}

/** So many places stand on Today by themselves; the rest are a click away. */
const MOST_TOLD = 3;

function todayItems(ctx: Context, findings: readonly NamedFinding[]): readonly NewItem[] {
  const wide = findings.filter((f) => f.kind === 'exposed' && f.mark);
  const leavers = findings.filter((f) => f.kind === 'leaver');
  const common = { action: 'access.read', since: ctx.now(), within: WHOLE_ESTATE } as const;
  return [
    ...wide.slice(0, MOST_TOLD).map((f): NewItem => ({
      ...{ ...common, kind: 'too broad', key: f.placeKey ?? '' },
      words: `${f.path === '' ? '' : `${f.path.split(' / ')[0] ?? ''}: `}${f.name} is open to ${f.counts['reach'] ?? 0} people${(f.counts['anyone'] ?? 0) > 0 ? ' and whoever has a link' : ''}`,
      detail: `${f.counts['used'] ?? 0} used it in 90 days; ${f.counts['sensitive'] ?? 0} people in it with sensitive data`,
      link: `/access/places/${f.placeKey ?? ''}`,
    })),
    ...(leavers.length === 0
      ? []
      : [
          {
            ...({ ...common, kind: 'leaver reaches', key: 'leavers' } as const),
            words:
              leavers.length === 1
                ? `${leavers[0]?.name ?? ''} left, and still reaches ${leavers[0]?.counts['places'] ?? 0} places`
                : `${leavers.length} people left, and still reach what they reached`,
            detail: leavers
              .slice(0, 5)
              .map((l) => l.name)
              .join(', '),
            link:
              leavers.length === 1
                ? `/access/people/${leavers[0]?.whoKey ?? ''}`
                : '/access/broad?kind=leaver',
          },
        ]),
  ];
}

const Detail = z.object({
  path: z.string(),
  counts: z.record(z.string(), z.number()),
  data: z.array(z.object({ value: z.string(), count: z.number() })),
  link: z.string().optional(),
  mark: z.boolean(),
});

const kinds = Object.keys(FINDING_KINDS) as [FindingKind, ...FindingKind[]];
const Row = z
  .object({
    id: z.number(),
    kind: z.enum(kinds),
    weight: z.number(),
    place_key: Bytes.nullable(),
    place: z.string(),
    who_key: Bytes.nullable(),
    name: z.string(),
    detail: JsonColumn(Detail),
  })
  .transform(({ place_key, who_key, detail, ...row }) => ({
    ...row,
    ...detail,
    placeKey: place_key === null ? null : keyText(place_key),
    whoKey: who_key === null ? null : keyText(who_key),
  }));
export type ListedFinding = z.infer<typeof Row>;

const SOURCE: ListSource<ListedFinding> = {
  list: FINDING_LIST,
  select: 'f.id, f.kind, f.weight, f.place, f.place_key, f.who_key, f.name, f.detail',
  from: 'access_finding f',
  row: Row as unknown as z.ZodType<ListedFinding>,
  id: 'f.id',
  sorts: { weight: 'f.weight', name: 'f.name' },
  search: ['f.name', "JSON_VALUE(f.detail, '$.path')"],
  filters: { kind: (where, value) => where.and('f.kind = ?', value) },
};

/** What is too broad, a page at a time. */
export function listFindings(
  { store }: Context,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedFinding> & { total?: number }> {
  return listRegister(store, SOURCE, wish, { after, size });
}

/** Where a place stands among all that are exposed, from 1; null where it does not. */
export async function rankOf(
  store: Queries,
  key: string,
): Promise<{
  readonly rank: number;
  readonly of: number;
  readonly counts: Readonly<Record<string, number>>;
} | null> {
  const row = await store.one(
    z.object({ weight: z.number(), id: z.number(), detail: JsonColumn(Detail) }),
    "SELECT weight, id, detail FROM access_finding WHERE place_key = ? AND kind = 'exposed'",
    [Buffer.from(key, 'base64url')],
  );
  if (!row) return null;
  const counts = await store.one(
    z.object({ before: Count, all: Count }),
    "SELECT (SELECT COUNT(*) FROM access_finding WHERE kind = 'exposed' AND weight > ?) AS `before`, (SELECT COUNT(*) FROM access_finding WHERE kind = 'exposed') AS `all`",
    [row.weight],
  );
  return { rank: (counts?.before ?? 0) + 1, of: counts?.all ?? 1, counts: row.detail.counts };
}
