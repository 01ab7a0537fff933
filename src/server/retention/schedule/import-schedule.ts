import {
  readSchedule,
  SCHEDULE_FIELDS,
  type ScheduleField,
} from '../../../core/retention/schedule/schedule-table.ts';
import type { Context } from '../../context.ts';
import type { Table } from '../../files/table-file.ts';
import { dropUpload } from '../../files/uploads.ts';
import {
  columnsOf,
  headingsOf,
  markedCopy,
  refuseFaults,
  sentTable,
  viewTable,
  type Headings,
  type TableView,
} from '../../holdings/offers.ts';
import { saveRuleDraft } from '../../rules/rule-edits.ts';
import { listRules, readRule } from '../../rules/rule-store.ts';
import { byName, contentsOf, takeRows, type TakenRows } from '../../rules/take-rows.ts';
import type { Queries } from '../../store/pool.ts';
import { retentionNames } from '../retention-names.ts';
import { addRetentionRule, RETENTION_RULE } from '../rules/retention-rules.ts';

const MOST = 2000;

/** The heading that stands for each field of a rule. */
export const ScheduleHeadings = headingsOf<ScheduleField>(SCHEDULE_FIELDS);

export async function viewScheduleTable(
  ctx: Context,
  account: number,
  upload: number,
): Promise<TableView<ScheduleField>> {
  return viewTable<ScheduleField>(await sentTable(ctx, account, upload, MOST), SCHEDULE_FIELDS);
}

/**
 * Takes rules from a table, all or none, as drafts: those whose name is there are edited in the columns the table has, the
 * others are begun; nothing is in force by it. With `rehearse` it only tells what it would do. Throws a RefusedError that
 * names each cell that cannot be taken.
 */
export async function importSchedule(
  ctx: Context,
  account: number,
  { upload, headings, rehearse }: { upload: number; headings: Headings<ScheduleField>; rehearse: boolean },
): Promise<TakenRows> {
  const table = await sentTable(ctx, account, upload, MOST);
  return ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const { read, known } = await readRows(tx, table, headings);
    refuseFaults(table, read.faults);
    const vocabulary = await RETENTION_RULE.vocabulary(tx);
    if (rehearse) return takeRows(read.rules, known, vocabulary);
    const taken = await takeRows(read.rules, known, vocabulary, {
      add: (content) => addRetentionRule(tx, now, account, content),
      async edit(id, content) {
        const { revision, content: base } = await readRule(tx, RETENTION_RULE, id, true);
        await saveRuleDraft(tx, now, RETENTION_RULE, account, id, { revision, base, content });
      },
    });
    await dropUpload(tx, upload);
    return taken;
  });
}

/** A copy of a table with every fault marked. */
export async function markedSchedule(
  ctx: Context,
  account: number,
  upload: number,
  headings: Headings<ScheduleField>,
): Promise<Uint8Array> {
  const table = await sentTable(ctx, account, upload, MOST);
  const { read } = await readRows(ctx.store, table, headings);
  return markedCopy(table, read.faults);
}

async function readRows(store: Queries, table: Table, headings: Headings<ScheduleField>) {
  const names = await retentionNames(store);
  const known = byName(await listRules(store, RETENTION_RULE));
  const columns = columnsOf<ScheduleField>(table, SCHEDULE_FIELDS, headings);
  return { known, read: readSchedule(table.rows, columns, names, contentsOf(known)) };
}
