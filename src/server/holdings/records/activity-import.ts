import {
  ACTIVITY_FIELDS,
  readActivities,
  type ActivityField,
  type RecordNames,
} from '../../../core/holdings/records/activity-table.ts';
import type { Context } from '../../context.ts';
import { dropUpload } from '../../files/uploads.ts';
import { editObject, readObject } from '../../rules/plain-object.ts';
import { byName, contentsOf, takeRows, type TakenRows } from '../../rules/take-rows.ts';
import {
  columnsOf,
  headingsOf,
  markedCopy,
  refuseFaults,
  sentTable,
  viewTable,
  type Headings,
  type TableView,
} from '../tables/sent-table.ts';
import { ACTIVITY, addActivity, allActivities, recordNames } from './activities.ts';

const MOST = 2000;

/** The heading that stands for each field of a record. */
export const ActivityHeadings = headingsOf<ActivityField>(ACTIVITY_FIELDS);

export async function viewActivityTable(
  ctx: Context,
  account: number,
  upload: number,
): Promise<TableView<ActivityField>> {
  return viewTable<ActivityField>(await sentTable(ctx, account, upload, MOST), ACTIVITY_FIELDS);
}

/**
 * Takes records from a table, all or none: those whose name is there are changed in the columns the table has, the others are
 * added, and none is taken out. With `rehearse` it only tells what it would do. Throws a RefusedError that names each cell
 * that cannot be taken.
 */
export async function importActivities(
  ctx: Context,
  account: number,
  { upload, headings, rehearse }: { upload: number; headings: Headings<ActivityField>; rehearse: boolean },
): Promise<TakenRows> {
  const table = await sentTable(ctx, account, upload, MOST);
  const columns = columnsOf<ActivityField>(table, ACTIVITY_FIELDS, headings);
  return ctx.store.transaction(async (tx) => {
    const names = await recordNames(tx);
    const known = byName(await allActivities(tx));
    const { activities, faults } = readActivities(table.rows, columns, names, contentsOf(known));
    refuseFaults(table, faults);
    const vocabulary = await ACTIVITY.vocabulary(tx);
    if (rehearse) return takeRows(activities, known, vocabulary);
    const taken = await takeRows(activities, known, vocabulary, {
      add: (content) => addActivity(tx, ctx.now(), account, content),
      async edit(id, content) {
        const { revision, content: base } = await readObject(tx, ACTIVITY, id, true);
        await editObject(tx, ctx.now(), ACTIVITY, account, id, { revision, base, content });
      },
    });
    await dropUpload(tx, upload);
    return taken;
  });
}

/** A copy of a table with every fault marked. */
export async function markedActivities(
  ctx: Context,
  account: number,
  upload: number,
  headings: Headings<ActivityField>,
): Promise<Uint8Array> {
  const table = await sentTable(ctx, account, upload, MOST);
  const names: RecordNames = await recordNames(ctx.store);
  const { faults } = readActivities(
    table.rows,
    columnsOf<ActivityField>(table, ACTIVITY_FIELDS, headings),
    names,
  );
  return markedCopy(table, faults);
}
