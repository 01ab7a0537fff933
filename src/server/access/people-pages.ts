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

type As = 'csv' | 'xlsx' | 'pdf';

/** More rows than this stand in no file: a table for people to read ends sooner than one for machines. */
const MOST_ROWS: Readonly<Record<As, number>> = { csv: 100_000, xlsx: 20_000, pdf: 2000 };

/** Everybody who reaches a place, as a file. */
export async function exportPeople(
  ctx: Context,
  { key, on, text, strength, way, via, as }: Omit<WhoInput, 'after' | 'size'> & { as: As },
): Promise<Response> {
  const { rows, total } = await askAccess(
    ctx,
    'who',
    { key, wish: { text, strength, way, via }, from: 0, size: MOST_ROWS[as] },
    on,
  );
  const place = await askAccess(ctx, 'place', { key }, on);
  const title = `Who reaches ${[...place.path.map((p) => p.name), place.name].join(' / ')}`;
  return file(ctx, as, title, 'who-reaches-it', on, {
    total,
    headings: ['Person', 'Work', 'Strength', 'By which way', 'Other ways', 'Last used'],
    rows: rows.map((r) => [r.name, r.work, r.strength, r.way, String(r.otherWays), r.lastUse ?? '']),
  });
}

/** All places that somebody reaches, as a file. */
export async function exportReached(
  ctx: Context,
  { key, on, text, strength, as }: z.infer<z.ZodObject<typeof ReachedInput>> & { as: As },
): Promise<Response> {
  const { rows, next } = await askAccess(
    ctx,
    'reached',
    { key, text, strength, from: 0, size: MOST_ROWS[as] },
    on,
  );
  const who = await askAccess(ctx, 'principal', { key }, on);
  return file(ctx, as, `What ${who.name} reaches`, 'what-they-reach', on, {
    total: next === null ? rows.length : null,
    headings: ['Place', 'Strength', 'By which way', 'Other ways', 'Last used'],
    rows: rows.map((r) => [
      [r.path, r.name].filter(Boolean).join(' / '),
      ...[r.strength, r.way, String(r.otherWays), r.lastUse ?? ''],
    ]),
  });
}

interface Table {
  /** How many there are, also those that stand in no file; null where there are more, and nobody counted them. */
  readonly total: number | null;
  readonly headings: readonly string[];
  readonly rows: readonly (readonly string[])[];
}

async function file(
  ctx: Context,
  as: As,
  title: string,
  name: string,
  on: string | undefined,
  { headings, rows, total }: Table,
): Promise<Response> {
  const cut = total !== rows.length ? cutWords(rows.length, total, as) : undefined;
  const told = cut === undefined ? rows : [...rows, [cut, ...headings.slice(1).map(() => '')]];
  switch (as) {
    case 'csv':
      return attachment(`${name}.csv`, 'text/csv; charset=utf-8', [headings, ...told].map(csvLine).join(''));
    case 'xlsx':
      return attachment(`${name}.xlsx`, XLSX, await workbook('Reach', headings, told));
    case 'pdf':
      return attachment(
        `${name}.pdf`,
        'application/pdf',
        await reachReport(title, on ?? ctx.now().toISOString().slice(0, 10), cut, headings, rows),
      );
  }
}

const FULLER: Readonly<Record<As, string>> = {
  csv: 'narrow it to see the rest',
  xlsx: 'CSV holds up to 100,000',
  pdf: 'a workbook holds up to 20,000, CSV up to 100,000',
};

/** That a file is not all there is; exported for its test. */
export function cutWords(shown: number, total: number | null, as: As): string {
  const words = (n: number) => n.toLocaleString('en');
  return `The first ${words(shown)}${total === null ? ', and there are more' : ` of ${words(total)}`}: ${FULLER[as]}.`;
}
