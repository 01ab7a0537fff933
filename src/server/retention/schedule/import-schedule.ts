import { change, inWords, type Json } from '../../../core/rules/change.ts';
import {
  readSchedule,
  SCHEDULE_FIELDS,
  type ScheduleField,
} from '../../../core/retention/schedule/schedule-table.ts';
import type { RetentionRuleDraft } from '../../../core/retention/rules/retention-rule.ts';
import type { Context } from '../../context.ts';
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
import { editRule } from '../../rules/rule-edits.ts';
import { listRules, readRule } from '../../rules/rule-store.ts';
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

/** What taking a table would do, rule by rule. */
export interface ScheduleOutcome {
  readonly added: readonly string[];
  readonly changed: readonly { readonly name: string; readonly words: readonly string[] }[];
  readonly same: number;
}

/**
 * Takes rules from a table, as drafts: those whose name is there are edited in the columns the table has, the others are
 * begun; nothing is in force by it. With `rehearse` it only tells what it would do. Throws a RefusedError that names each
 * cell that cannot be taken.
 */
export async function importSchedule(
  ctx: Context,
  account: number,
  { upload, headings, rehearse }: { upload: number; headings: Headings<ScheduleField>; rehearse: boolean },
): Promise<ScheduleOutcome> {
  const { table, read, before } = await readSent(ctx, account, upload, headings);
  refuseFaults(table, read.faults);
  const vocabulary = await RETENTION_RULE.vocabulary(ctx.store);
  const added: RetentionRuleDraft[] = [];
  const changed: (ScheduleOutcome['changed'][number] & {
    readonly id: string;
    readonly content: RetentionRuleDraft;
  })[] = [];
  let same = 0;
  for (const content of read.rules) {
    const known = before.get(content.name.toLowerCase());
    const difference = known ? change(known.content as unknown as Json, content as unknown as Json) : [];
    if (!known) added.push(content);
    else if (difference.length === 0) same++;
    else changed.push({ id: known.id, name: content.name, content, words: inWords(difference, vocabulary) });
  }
  if (!rehearse) {
    await ctx.store.transaction(async (tx) => {
      for (const content of added) await addRetentionRule(tx, ctx.now(), account, content);
      await dropUpload(tx, upload);
    });
    for (const { id, content } of changed) {
      const { revision, content: base } = await readRule(ctx.store, RETENTION_RULE, id);
      await editRule(ctx, RETENTION_RULE as never, account, id, {
        revision,
        base: base as never,
        content: content as never,
      });
    }
  }
  return {
    added: added.map((a) => a.name),
    changed: changed.map(({ name, words }) => ({ name, words })),
    same,
  };
}

/** A copy of a table with every fault marked. */
export async function markedSchedule(
  ctx: Context,
  account: number,
  upload: number,
  headings: Headings<ScheduleField>,
): Promise<Uint8Array> {
  const { table, read } = await readSent(ctx, account, upload, headings);
  return markedCopy(table, read.faults);
}

async function readSent(ctx: Context, account: number, upload: number, headings: Headings<ScheduleField>) {
  const table = await sentTable(ctx, account, upload, MOST);
  const [names, all] = await Promise.all([retentionNames(ctx.store), listRules(ctx.store, RETENTION_RULE)]);
  const before = new Map(all.map((r) => [r.name.toLowerCase(), r]));
  const read = readSchedule(
    table.rows,
    columnsOf<ScheduleField>(table, SCHEDULE_FIELDS, headings),
    names,
    new Map([...before].map(([name, r]) => [name, r.content])),
  );
  return { table, read, before };
}
