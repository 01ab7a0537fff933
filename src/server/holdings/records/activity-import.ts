import type { ActivityContent } from '../../../core/holdings/records/activity.ts';
import {
  ACTIVITY_FIELDS,
  readActivities,
  type ActivityField,
  type RecordNames,
} from '../../../core/holdings/records/activity-table.ts';
import { change, inWords, type Json } from '../../../core/rules/change.ts';
import type { Context } from '../../context.ts';
import { dropUpload } from '../../files/uploads.ts';
import { editObject, readObject } from '../../rules/plain-object.ts';
import type { Queries } from '../../store/pool.ts';
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

/** What taking a table would do, record by record. */
export interface ImportOutcome {
  readonly added: readonly string[];
  readonly changed: readonly { readonly name: string; readonly words: readonly string[] }[];
  readonly same: number;
}

interface Before {
  readonly id: string;
  readonly content: ActivityContent;
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
): Promise<ImportOutcome> {
  const table = await sentTable(ctx, account, upload, MOST);
  const columns = columnsOf<ActivityField>(table, ACTIVITY_FIELDS, headings);
  return ctx.store.transaction(async (tx) => {
    const names = await recordNames(tx);
    const before = await recordsByName(tx);
    const { activities, faults } = readActivities(
      table.rows,
      columns,
      names,
      new Map([...before].map(([name, b]) => [name, b.content])),
    );
    refuseFaults(table, faults);
    const vocabulary = await ACTIVITY.vocabulary(tx);
    const added: string[] = [];
    const changed: ImportOutcome['changed'][number][] = [];
    let same = 0;
    for (const content of activities) {
      const known = before.get(content.name.toLowerCase());
      if (!known) {
        added.push(content.name);
        if (!rehearse) await addActivity(tx, ctx.now(), account, content);
        continue;
      }
      const difference = change(known.content as Json, content as Json);
      if (difference.length === 0) {
        same++;
        continue;
      }
      changed.push({ name: content.name, words: inWords(difference, vocabulary) });
      if (rehearse) continue;
      const { revision, content: base } = await readObject(tx, ACTIVITY, known.id, true);
      await editObject(tx, ctx.now(), ACTIVITY, account, known.id, { revision, base, content });
    }
    if (!rehearse) await dropUpload(tx, upload);
    return { added, changed, same };
  });
}

async function recordsByName(tx: Queries): Promise<ReadonlyMap<string, Before>> {
  return new Map((await allActivities(tx)).map((a) => [a.content.name.toLowerCase(), a]));
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
