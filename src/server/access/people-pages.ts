import type { z } from 'zod';
import { attachment } from '../http/attachment.ts';
import { csvLine } from '../http/csv.ts';
import { workbook, XLSX } from '../holdings/offers.ts';
import type { Context } from '../context.ts';
import type { Page } from '../store/page.ts';
import { askAccess } from './index/ask-access.ts';
import type { ListedPrincipal, PeopleKind } from './index/person-answers.ts';
import type { PersonAt } from './index/place-answers.ts';
import type { ReachedInput, WhoInput } from './inputs.ts';
import { reachReport } from './reach-report.ts';

type Counted<T> = Page<T> & { readonly total: number };

function counted<T>(
  { rows, total }: { readonly rows: readonly T[]; readonly total: number },
  from: number,
): Counted<T> {
  const to = from + rows.length;
  return { rows, total, next: to < total && rows.length > 0 ? String(to) : null };
}

export async function pageOfPeople(
  ctx: Context,
  { key, on, after, size, text, strength, way, via }: WhoInput,
): Promise<Counted<PersonAt>> {
  const say = { key, wish: { text, strength, way, via }, from: after, size };
  return counted(await askAccess(ctx, 'who', say, on), after);
}

const PEOPLE_AT_ONCE = 100;

export async function pageOfPrincipals(
  ctx: Context,
  { text, kind, after }: { text: string; kind?: PeopleKind | undefined; after: number },
): Promise<Counted<ListedPrincipal>> {
  const say = { text, kind, from: after, size: PEOPLE_AT_ONCE };
  return counted(await askAccess(ctx, 'principals', say), after);
}

/** More rows than this stand in no file. */
const MOST_ROWS = 100_000;

type As = 'csv' | 'xlsx' | 'pdf';

/** Everybody who reaches a place, as a file. */
export async function exportPeople(
  ctx: Context,
  { key, on, text, strength, way, via, as }: Omit<WhoInput, 'after' | 'size'> & { as: As },
): Promise<Response> {
  const { rows } = await askAccess(
    ctx,
    'who',
    { key, wish: { text, strength, way, via }, from: 0, size: MOST_ROWS },
    on,
  );
  const place = await askAccess(ctx, 'place', { key }, on);
  const title = `Who reaches ${[...place.path.map((p) => p.name), place.name].join(' / ')}`;
  return file(ctx, as, title, 'who-reaches-it', on, {
    headings: ['Person', 'Work', 'Strength', 'By which way', 'Other ways', 'Last used'],
    rows: rows.map((r) => [r.name, r.work, r.strength, r.way, String(r.otherWays), r.lastUse ?? '']),
  });
}

/** All places that somebody reaches, as a file. */
export async function exportReached(
  ctx: Context,
  { key, on, text, strength, as }: z.infer<z.ZodObject<typeof ReachedInput>> & { as: As },
): Promise<Response> {
  const { rows } = await askAccess(ctx, 'reached', { key, text, strength, from: 0, size: MOST_ROWS }, on);
  const who = await askAccess(ctx, 'principal', { key }, on);
  return file(ctx, as, `What ${who.name} reaches`, 'what-they-reach', on, {
    headings: ['Place', 'Strength', 'By which way', 'Other ways', 'Last used'],
    rows: rows.map((r) => [
      [r.path, r.name].filter(Boolean).join(' / '),
      ...[r.strength, r.way, String(r.otherWays), r.lastUse ?? ''],
    ]),
  });
}

interface Table {
  readonly headings: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

async function file(
  ctx: Context,
  as: As,
  title: string,
  name: string,
  on: string | undefined,
  { headings, rows }: Table,
): Promise<Response> {
  switch (as) {
    case 'csv':
      return attachment(`${name}.csv`, 'text/csv; charset=utf-8', [headings, ...rows].map(csvLine).join(''));
    case 'xlsx':
      return attachment(`${name}.xlsx`, XLSX, await workbook('Reach', headings, rows));
    case 'pdf':
      return attachment(
        `${name}.pdf`,
        'application/pdf',
        await reachReport(title, on ?? ctx.now().toISOString().slice(0, 10), headings, rows),
      );
  }
}
