import { z } from 'zod';
import {
  MeasureWork,
  NEW_WORK,
  workVocabulary,
  type MeasureWork as Work,
} from '../../../core/obligations/work/measure-work.ts';
import type { Measure } from '../../../core/obligations/framework/framework.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { PlainKind } from '../../rules/plain-object.ts';
import { JsonColumn } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { accountNames } from '../../accounts/account-names.ts';
import { frameworkLibrary } from '../library/own-frameworks.ts';

/** A measure in a cycle, as addresses name it: `3.train-staff`. */
export function workKey(cycle: number, measure: string): string {
  return `${cycle}.${measure}`;
}

/** Throws a RefusedError (404). */
export function readWorkKey(key: string | number): { readonly cycle: number; readonly measure: string } {
  const [, cycle, measure] = /^(\d{1,9})\.([a-z0-9.-]{1,80})$/.exec(String(key)) ?? [];
  if (cycle === undefined || measure === undefined) throw notFound('measure');
  return { cycle: Number(cycle), measure };
}

/** The measure and cycle of a key, as they are. Throws a RefusedError (404). */
export async function findWork(store: Queries, key: string | number) {
  const { cycle, measure: id } = readWorkKey(key);
  const measure = (await frameworkLibrary(store)).measures.get(id);
  if (!measure) throw notFound('measure');
  const known = await store.one(
    z.object({ id: z.number() }),
    'SELECT id FROM assessment_cycle WHERE id = ?',
    [cycle],
  );
  if (!known) throw notFound('cycle');
  return { cycle, measure };
}

const Row = z.object({ content: JsonColumn(MeasureWork) });

export const MEASURE_WORK: PlainKind<Work> = {
  object: 'measure work',
  content: MeasureWork,
  vocabulary: async (store) => workVocabulary(await accountNames(store)),
  async read(store, key, lock) {
    const { cycle, measure } = await findWork(store, key);
    const row = await store.one(
      Row,
      `SELECT content FROM measure_work WHERE cycle_id = ? AND measure = ?${lock ? ' FOR UPDATE' : ''}`,
      [cycle, measure.id],
    );
    return row?.content ?? NEW_WORK;
  },
  async write(tx, key, content, before, now, by) {
    const { cycle, measure } = await findWork(tx, key);
    await writeWork(tx, cycle, measure.id, signed(content, before, measure, by, now));
  },
};

/** With who did it and who tested it, by whose word it says so now. Throws a RefusedError for a test that is not theirs. */
function signed(content: Work, before: Work, measure: Measure, by: number, now: Date): Work {
  const doneBy = content.state === 'done' ? (before.state === 'done' ? before.doneBy : by) : null;
  if (content.test !== null && content.test !== before.test) {
    refuseTest(content, measure, doneBy, by);
    return { ...content, doneBy, testedBy: by, testedOn: now.toISOString().slice(0, 10) };
  }
  // What was tested is not what stands there, once it is worked on again.
  const again = content.state !== before.state && content.state !== 'done';
  const test = again ? null : content.test;
  const { testedBy, testedOn } = test === null ? NEW_WORK : before;
  return { ...content, doneBy, test, testedBy, testedOn };
}

function refuseTest({ state }: Work, measure: Measure, doneBy: number | null, by: number): void {
  if (measure.test)
    throw new RefusedError('The program tests this itself.', [
      { field: 'content.test', message: 'What it saw counts, and nobody’s word.' },
    ]);
  if (state !== 'done')
    throw new RefusedError('It is not done yet.', [
      { field: 'content.test', message: 'Test it once it is done.' },
    ]);
  if (doneBy === by)
    throw new RefusedError('Somebody else tests what one did oneself.', [
      { field: 'content.test', message: 'Ask a colleague to test it.' },
    ]);
}

export async function writeWork(
  tx: Queries,
  cycle: number,
  measure: string,
  content: Work,
  cameFrom: number | null = null,
): Promise<void> {
  await tx.run(
    `INSERT INTO measure_work (cycle_id, measure, content, came_from) VALUES (?, ?, ?, ?)
     ON DUPLICATE KEY UPDATE content = VALUES(content)`,
    [cycle, measure, JSON.stringify(content), cameFrom],
  );
}
