import type { Period } from '../../../core/retention/clock/period.ts';
import { lensText } from '../../../core/lens/lens-text.ts';
import type { ResolvedScope } from '../../../core/retention/verdict/weighed.ts';
import { SCHEDULE_FIELDS, scheduleRow } from '../../../core/retention/schedule/schedule-table.ts';
import type { Context } from '../../context.ts';
import { csvLine } from '../../http/csv.ts';
import { workbook } from '../../holdings/offers.ts';
import { listRules } from '../../rules/rule-store.ts';
import { retentionNames } from '../retention-names.ts';
import { RETENTION_RULE } from '../rules/retention-rules.ts';
import { retentionWeighing } from '../weighing.ts';

const HEADINGS = Object.values(SCHEDULE_FIELDS).map((f) => f.words);

async function rows({ store }: Context): Promise<readonly (readonly string[])[]> {
  const [all, names] = await Promise.all([listRules(store, RETENTION_RULE), retentionNames(store)]);
  return all.filter((r) => r.stage.state !== 'retired').map((r) => scheduleRow(r.content, names));
}

/** All rules but retired ones, as their drafts stand: a row each, which an import reads as the same. */
export async function scheduleCsv(ctx: Context): Promise<string> {
  // With a mark of its bytes, so that spreadsheets read its letters.
  return `\ufeff${[HEADINGS, ...(await rows(ctx))].map((r) => csvLine(r)).join('')}`;
}

export async function scheduleXlsx(ctx: Context): Promise<Uint8Array> {
  return workbook('Retention schedule', HEADINGS, await rows(ctx));
}

/** The same as a list of objects, whose names are the headings. */
export async function scheduleRecords(ctx: Context): Promise<string> {
  return JSON.stringify(
    (await rows(ctx)).map((cells) => Object.fromEntries(HEADINGS.map((h, i) => [h, cells[i] ?? '']))),
    null,
    2,
  );
}

/** What is in force, as `./yare retention` reads it: rules and bounds in one file, holds in the other. */
export async function scheduleJson(
  ctx: Context,
): Promise<{ readonly rules: object; readonly holds: object }> {
  const { zone, rules, bounds, holds, contents } = await retentionWeighing(ctx, 'in force');
  const scope = ({ lens, places }: ResolvedScope) => ({
    where: lensText(lens),
    places: places.map((p) => {
      const [source = '', ...steps] = p.split('/');
      return { source, path: steps.join('/') };
    }),
  });
  const term = ({
    period,
    clock,
  }: {
    readonly period: Period | null;
    readonly clock: { readonly after: string; readonly yearEnd: boolean; readonly unknown: string };
  }) => ({
    keep: period,
    ...clock,
  });
  return {
    rules: {
      zone,
      rules: rules.map((r) => ({
        id: r.id,
        name: contents.get(r.id)?.name ?? '',
        ...scope(r.scope),
        ...term(r),
        then: r.then,
        order: r.order,
      })),
      bounds: bounds.map((b) => ({ id: b.id, name: b.name, kind: b.kind, ...scope(b.scope), ...term(b) })),
    },
    holds: {
      holds: holds.map((h) => ({ id: h.id, name: h.name, ...scope(h.scope), from: h.from, until: h.until })),
    },
  };
}

/** The schedule as cells, its head first. */
export async function* scheduleCells(ctx: Context): AsyncGenerator<readonly string[]> {
  yield HEADINGS;
  yield* await rows(ctx);
}
