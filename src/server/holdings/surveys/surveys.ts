import { z } from 'zod';
import { nextTime } from '../../../core/schedule/schedule.ts';
import type { Account, AuthorityObject } from '../../../core/accounts/authority.ts';
import type { Within } from '../../../core/accounts/scope.ts';
import { builtInDetectors } from '../../../core/holdings/detection/library/library.ts';
import { SURVEY_LIST } from '../../../core/holdings/surveys/survey-list.ts';
import { SurveyContent, surveySentence, type SurveyNames } from '../../../core/holdings/surveys/survey.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import { sentenceVocabulary, slotsOf } from '../../../core/rules/sentence.ts';
import { RUN_STATES, type RunState } from '../../../core/runs/run.ts';
import type { Context } from '../../context.ts';
import { listRegister, type ListSource, type WishInput } from '../../lists/list-source.ts';
import { addNamed, writeNamed, type NamedTable } from '../../rules/named-table.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { findRun } from '../../runs/run-store.ts';
import { moveRun, proposeRun } from '../../runs/runs.ts';
import { BigId, Instant, JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Page } from '../../store/page.ts';
import type { Queries } from '../../store/pool.ts';
import { listOwnDetectors } from '../detection/detectors/own-detectors.ts';
import { sourceNames } from '../sources/sources.ts';
import { ANY_SURVEY } from './survey-run.ts';

const SurveyRow = z.object({
  id: z.number(),
  content: JsonColumn(SurveyContent),
  run_id: BigId.nullable(),
  next_run: Instant.nullable(),
});
export type Survey = z.infer<typeof SurveyRow>;

/** Throws a RefusedError (404). */
export async function findSurvey(store: Queries, id: number | string, lock = false): Promise<Survey> {
  const survey = await store.one(
    SurveyRow,
    `SELECT id, content, run_id, next_run FROM survey WHERE id = ?${lock ? ' FOR UPDATE' : ''}`,
    [id],
  );
  if (!survey) throw notFound('survey');
  return survey;
}

function withinOf({ sources }: SurveyContent): readonly Within[] {
  return sources.map((id) => ({ kind: 'source', id }));
}

/** For endpoints about one survey. */
export async function surveyObject(
  { store }: Context,
  { id }: { id: number | string },
): Promise<AuthorityObject> {
  const survey = await findSurvey(store, id);
  return { kind: 'survey', id: String(survey.id), within: withinOf(survey.content) };
}

const TABLE: NamedTable<SurveyContent> = {
  table: 'survey',
  object: 'survey',
  content: SurveyContent,
  columns: ({ schedule }, now) => ({ next_run: schedule ? toDatetime(nextTime(schedule, now)) : null }),
};

export const SURVEY: PlainKind<SurveyContent> = {
  object: 'survey',
  content: SurveyContent,
  vocabulary: async (store) =>
    sentenceVocabulary(slotsOf(surveySentence(await surveyNames(store))), {
      path: ([first]) => (first === 'name' ? 'The name' : first === 'schedule' ? 'When it runs' : undefined),
      value: (value) => (value === null ? 'not by itself' : undefined),
    }),
  read: async (store, key, lock) => (await findSurvey(store, key, lock)).content,
  async write(tx, key, content, _before, now) {
    await requireSources(tx, content.sources);
    await writeNamed(tx, TABLE, key, content, now);
  },
};

export async function surveyWithin(store: Queries, key: number | string): Promise<readonly Within[]> {
  return withinOf((await findSurvey(store, key)).content);
}

/** What can be named in a survey. */
export async function surveyNames(store: Queries): Promise<SurveyNames> {
  const [sources, own] = [await sourceNames(store), await listOwnDetectors(store)];
  const ids = new Set(own.map((d) => d.id));
  return {
    sources: sources.map((s) => ({ value: s.id, words: s.name })),
    detectors: [
      ...own.map((d) => ({ value: d.id, words: d.name, detail: d.stage.state })),
      ...builtInDetectors()
        .filter((d) => !ids.has(d.id))
        .map((d) => ({ value: d.id, words: d.name, detail: d.category })),
    ],
  };
}

async function requireSources(tx: Queries, ids: readonly string[]): Promise<void> {
  const known = new Set((await sourceNames(tx)).map((s) => s.id));
  if (ids.some((id) => !known.has(id)))
    throw new RefusedError('One of these sources is gone.', [
      { field: 'sources', message: 'Choose those that are there.' },
    ]);
}

/** Throws a RefusedError (409) for a name that is taken. */
export async function addSurvey(
  tx: Queries,
  now: Date,
  by: number | null,
  content: SurveyContent,
): Promise<number> {
  await requireSources(tx, content.sources);
  return addNamed(tx, TABLE, now, by, content);
}

const OVER: readonly RunState[] = ['done', 'failed', 'cancelled'];

/** Has it estimated. Throws a RefusedError (409) while a run of it is not over. */
export async function estimateSurvey(ctx: Context, by: number | null, id: number): Promise<string> {
  return ctx.store.transaction(async (tx) => {
    const survey = await findSurvey(tx, id, true);
    if (survey.run_id !== null) {
      const run = await findRun(tx, survey.run_id, true);
      // An estimate that nobody started makes room for a new one.
      if (run.state === 'estimated') await moveRun(tx, ctx, ANY_SURVEY, by, run.id, 'cancel');
      else if (!OVER.includes(run.state))
        throw new RefusedError(
          `It is ${run.state} already.`,
          [{ field: 'id', message: 'Cancel that first.' }],
          409,
        );
    }
    const { content } = survey;
    const run = await proposeRun(tx, ctx, ANY_SURVEY, {
      title: content.name,
      about: { object: 'survey', id },
      within: withinOf(content),
      plan: { ...content, survey: id },
      by,
    });
    await tx.run('UPDATE survey SET run_id = ? WHERE id = ?', [run, id]);
    return run;
  });
}

/** Starts what is due by itself: estimates it, and once that is known, reads. */
export async function runDueSurveys(ctx: Context): Promise<void> {
  const now = ctx.now();
  const due = await ctx.store.all(
    z.object({ id: z.number(), content: JsonColumn(SurveyContent) }),
    'SELECT id, content FROM survey WHERE next_run <= ? ORDER BY next_run LIMIT 50',
    [toDatetime(now)],
  );
  for (const { id, content } of due) {
    const moved = await ctx.store.run('UPDATE survey SET next_run = ? WHERE id = ? AND next_run <= ?', [
      content.schedule ? toDatetime(nextTime(content.schedule, now)) : null,
      id,
      toDatetime(now),
    ]);
    // Another worker took it.
    if (moved.changed === 0) continue;
    try {
      await estimateSurvey(ctx, null, id);
    } catch (error) {
      // The last one goes on still.
      if (!(error instanceof RefusedError)) throw error;
    }
  }
  const estimated = await ctx.store.all(
    z.object({ id: BigId }),
    "SELECT r.id FROM run r JOIN survey s ON s.run_id = r.id WHERE r.state = 'estimated' AND r.created_by IS NULL",
  );
  for (const run of estimated)
    await ctx.store.transaction(async (tx) => {
      if ((await findRun(tx, run.id, true)).state === 'estimated')
        await moveRun(tx, ctx, ANY_SURVEY, null, run.id, 'start');
    });
}

export interface ListedSurvey {
  readonly id: number;
  readonly name: string;
  /** Ids of those it reads. */
  readonly sources: readonly string[];
  readonly state: RunState | null;
  readonly run: string | null;
  readonly endedAt: string | null;
  readonly nextRun: string | null;
}

const ListedRow = z
  .object({
    id: z.number(),
    content: JsonColumn(SurveyContent),
    state: z.enum(RUN_STATES).nullable(),
    run_id: BigId.nullable(),
    ended_at: Instant.nullable(),
    next_run: Instant.nullable(),
  })
  .transform(({ id, content, state, run_id, ended_at, next_run }): ListedSurvey => ({
    id,
    name: content.name,
    sources: content.sources,
    state,
    run: run_id,
    endedAt: ended_at,
    nextRun: next_run,
  }));

const LISTED: ListSource<ListedSurvey> = {
  list: SURVEY_LIST,
  select: 's.id, s.content, s.run_id, s.next_run, r.state, r.ended_at',
  from: 'survey s LEFT JOIN run r ON r.id = s.run_id',
  row: ListedRow as unknown as z.ZodType<ListedSurvey>,
  id: 's.id',
  sorts: { id: 's.id' },
  search: ['s.name'],
  filters: {},
};

/** Those of which an account may see every source. */
export async function listSurveys(
  { store }: Context,
  account: Pick<Account, 'scope'>,
  wish: WishInput,
  after: string | undefined,
  size: number,
): Promise<Page<ListedSurvey> & { total?: number }> {
  const page = await listRegister(store, LISTED, wish, { after, size });
  const mine = account.scope?.['source'];
  if (mine === undefined) return page;
  const { total: _all, ...rest } = page;
  return { ...rest, rows: page.rows.filter((r) => r.sources.every((id) => mine.includes(id))) };
}
