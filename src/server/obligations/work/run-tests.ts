import { z } from 'zod';
import { liveTest, MeasureWork } from '../../../core/obligations/work/measure-work.ts';
import { dayText } from '../../../core/text/day.ts';
import type { Context } from '../../context.ts';
import { keysOnToday, putOnToday, takeOffToday } from '../../desk/today.ts';
import { record } from '../../evidence/ledger.ts';
import { keptFigures } from '../../figures/kept-figures.ts';
import { logFailure } from '../../processes/failure-log.ts';
import { queueMail } from '../../outbox/outbox.ts';
import { JsonColumn, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { allAssessments, type Assessment } from '../assessments/assessment-object.ts';
import { frameworkLibrary } from '../library/own-frameworks.ts';
import { assessAll, liveTests, readStanding } from '../standing.ts';
import { workKey, writeWork } from './measure-work-object.ts';
import { MEASURE_DUE, MEASURE_FAILED } from './work-letters.ts';

/** Figures that were not counted for longer say nothing of today. */
const RECENT_DAYS = 2;
/** So long before its day a measure stands on Today. */
const DUE_DAYS = 7;

/** Looks at the figures behind measures, tells what fails now and did not, and keeps how far assessments are today. */
export async function runTests(ctx: Context): Promise<void> {
  await ctx.store.transaction((tx) => lookAtFigures(ctx, tx));
  await keepToday(ctx);
}

async function lookAtFigures(ctx: Context, tx: Queries): Promise<void> {
  const now = ctx.now();
  const library = await frameworkLibrary(tx);
  const tested = [...library.measures.values()].flatMap((m) =>
    m.test ? [{ id: m.id, name: m.name, test: m.test }] : [],
  );
  const figures = await keptFigures(
    tx,
    [...new Set(tested.map((t) => t.test.figure))],
    new Date(now.getTime() - RECENT_DAYS * 86_400_000),
  );
  // Two workers come one after the other, and tell what changed once.
  const before = await liveTests(tx, true);
  const assessments = await allAssessments(tx, library);
  for (const { id, name, test } of tested) {
    const figure = figures.get(test.figure)?.at(-1);
    const [value, of] = [figure?.value ?? null, figure?.of ?? null];
    const says = liveTest(test, figure);
    const was = before.get(id);
    const isNew = was?.test !== says;
    if (isNew || was.value !== value || was.of !== of)
      await tx.run(
        `INSERT INTO measure_test (measure, value, out_of, passed, since, at) VALUES (?, ?, ?, ?, ?, ?)
         ON DUPLICATE KEY UPDATE value = VALUES(value), out_of = VALUES(out_of), since = IF(passed <=> VALUES(passed), since, VALUES(since)),
           passed = VALUES(passed), at = VALUES(at)`,
        [id, value, of, says === null ? null : says === 'passed', toDatetime(now), toDatetime(now)],
      );
    if (says === 'failed') {
      if (isNew) await openAgain(tx, id);
      await tellFailed(ctx, tx, assessments, {
        ...{ id, name, isNew, since: isNew ? now : was.since },
        counted: of === null ? `${value}` : `${value} of ${of}`,
      });
    } else if (isNew) await takeOffToday(tx, 'measure failed', id);
    if (isNew && was)
      await record(tx, now, {
        ...{ actor: 'system', action: `measure.${says ?? 'unknown'}`, object: 'measure work', objectId: id },
        detail: { value, before: was.test },
      });
  }
}

/** What was done is to be done again, in every cycle. */
async function openAgain(tx: Queries, measure: string): Promise<void> {
  for (const { cycle_id, content } of await workOn(tx, measure))
    if (content.state === 'done')
      await writeWork(tx, cycle_id, measure, { ...content, state: 'in work', doneBy: null });
}

/** The latest cycle first; locked. */
function workOn(tx: Queries, measure: string) {
  return tx.all(
    z.object({ cycle_id: z.number(), content: JsonColumn(MeasureWork) }),
    'SELECT cycle_id, content FROM measure_work WHERE measure = ? ORDER BY cycle_id DESC FOR UPDATE',
    [measure],
  );
}

interface Failed {
  readonly id: string;
  /** It did not before. */
  readonly isNew: boolean;
  readonly name: string;
  readonly since: Date | string;
  /** What the program counts: “3 of 14”. */
  readonly counted: string;
}

/**
 * Puts it on Today for who owns it; for all who see measures, where nobody does. At every look, since who owns it, and
 * whether an assessment asks for it, changes while it fails.
 */
async function tellFailed(
  ctx: Context,
  tx: Queries,
  assessments: readonly Assessment[],
  { id, name, isNew, since, counted }: Failed,
): Promise<void> {
  const asked = assessments.find((a) => a.framework.controls.some((c) => c.measures.includes(id)));
  // What no assessment asks for is nobody’s work.
  if (!asked) return;
  const owned = (await workOn(tx, id)).find((r) => r.content.owner !== null);
  const owner = owned?.content.owner ?? null;
  const open = owner === null ? undefined : await openAccount(tx, owner);
  const link = `/obligations/measures/${workKey(owned?.cycle_id ?? asked.cycleId, id)}`;
  if (open !== undefined && isNew)
    await queueMail(tx, ctx, {
      key: `measure failed ${id} ${new Date(since).toISOString()} ${open.id}`,
      about: { object: 'measure work', id },
      ...{ to: open.email, template: MEASURE_FAILED },
      values: { name: open.name, measure: name, counted, link: ctx.settings.WEB_ORIGIN + link },
    });
  await putOnToday(tx, {
    ...{ kind: 'measure failed', key: id, action: 'obligations.read', since },
    words: `${name}: its test fails`,
    detail: `The program counts ${counted}.`,
    link,
    ...(open === undefined ? {} : { assignedTo: open.id }),
  });
}

/** Somebody who can sign in. */
function openAccount(tx: Queries, id: number) {
  return tx.one(
    z.object({ id: z.number(), name: z.string(), email: z.string() }),
    'SELECT id, name, email FROM account WHERE id = ? AND disabled_at IS NULL',
    [id],
  );
}

/** How far each assessment is today: the last of a day stays. */
async function keepToday(ctx: Context): Promise<void> {
  const standing = await readStanding(ctx.store, ctx.now());
  for (const { assessment, readiness } of assessAll(standing))
    await ctx.store
      .run(
        `INSERT INTO assessment_day (assessment_id, day, given, applicable) VALUES (?, ?, ?, ?)
         ON DUPLICATE KEY UPDATE given = VALUES(given), applicable = VALUES(applicable)`,
        [assessment.id, standing.day, readiness.tally.given, readiness.tally.applicable],
      )
      .catch((error: unknown) => logFailure('readiness of a day was not kept', error));
}

/** Puts measures on Today whose day comes near, for who owns them; takes off what is done. */
export async function tellDueMeasures(ctx: Context): Promise<void> {
  const soon = new Date(ctx.now().getTime() + DUE_DAYS * 86_400_000).toISOString().slice(0, 10);
  await ctx.store.transaction(async (tx) => {
    const standing = await readStanding(tx, ctx.now());
    const told = new Set(await keysOnToday(tx, 'measure due'));
    for (const [cycle, work] of standing.work)
      for (const [id, content] of work) {
        const key = workKey(cycle, id);
        const open = content.state === 'planned' || content.state === 'in work';
        if (!open || content.due === null || content.due > soon || content.owner === null) {
          await takeOffToday(tx, 'measure due', key);
          continue;
        }
        const late = content.due < standing.day;
        const name = standing.library.measures.get(id)?.name ?? id;
        if (!told.has(key)) await remind(ctx, tx, content.owner, key, { name, due: content.due, cycle });
        await putOnToday(tx, {
          ...{ kind: 'measure due', key, action: 'obligations.read', since: content.due, due: content.due },
          words: name,
          detail: late ? 'It was to be done by then.' : 'It is to be done by then.',
          link: `/obligations/measures/${key}`,
          assignedTo: content.owner,
        });
      }
  });
}

/** By mail, once. */
async function remind(
  ctx: Context,
  tx: Queries,
  owner: number,
  key: string,
  { name: measure, due, cycle }: { readonly name: string; readonly due: string; readonly cycle: number },
): Promise<void> {
  const to = await openAccount(tx, owner);
  const named = await tx.one(
    z.object({ name: z.string() }),
    'SELECT name FROM assessment_cycle WHERE id = ?',
    [cycle],
  );
  if (!to) return;
  await queueMail(tx, ctx, {
    key: `measure due ${key} ${due} ${to.id}`,
    about: { object: 'measure work', id: key },
    ...{ to: to.email, template: MEASURE_DUE },
    values: {
      ...{ name: to.name, measure, due: dayText(due), cycle: named?.name ?? '' },
      link: `${ctx.settings.WEB_ORIGIN}/obligations/measures/${key}`,
    },
  });
}
