import { createHash } from 'node:crypto';
import { z } from 'zod';
import {
  ProviderFile,
  providerFaults,
  type ProviderAnswer,
} from '../../../core/obligations/work/provider-file.ts';
import { notFound, RefusedError } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { record } from '../../evidence/ledger.ts';
import { dropUpload, readUpload } from '../../files/uploads.ts';
import { Flag, toDatetime } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { allAssessments } from '../assessments/assessment-object.ts';
import { frameworkLibrary } from '../library/own-frameworks.ts';
import { keepEvidence } from './evidence.ts';
import { workKey } from './measure-work-object.ts';

/** With how it was done, and when it was said. */
export interface ToldAnswer extends ProviderAnswer {
  readonly how: string;
  readonly issued: string;
}

/** What providers said last, by cycle and measure. */
export async function providerAnswers(
  store: Queries,
): Promise<ReadonlyMap<number, ReadonlyMap<string, readonly ToldAnswer[]>>> {
  const rows = await store.all(
    z.object({
      ...{ cycle_id: z.number(), measure: z.string(), provider: z.string(), passed: Flag },
      ...{ how: z.string(), until: z.string(), issued: z.string() },
    }),
    `SELECT cycle_id, measure, provider, passed, how, DATE_FORMAT(until, '%Y-%m-%d') AS until, DATE_FORMAT(issued, '%Y-%m-%d') AS issued
     FROM provider_answer ORDER BY provider`,
  );
  const found = new Map<number, Map<string, ToldAnswer[]>>();
  for (const { cycle_id, measure, passed, ...rest } of rows) {
    const cycle = found.get(cycle_id) ?? new Map<string, ToldAnswer[]>();
    found.set(cycle_id, cycle);
    const answers = cycle.get(measure) ?? [];
    cycle.set(measure, answers);
    answers.push({ ...rest, test: passed ? 'passed' : 'failed' });
  }
  return found;
}

export interface TakenAnswers {
  readonly provider: string;
  readonly passed: number;
  readonly failed: number;
}

/**
 * Takes in what a provider says of its measures, all of the file or none; the file itself is the evidence of each. What the
 * same provider said before of a measure counts no more. Throws a RefusedError that names each field.
 */
export async function takeProviderFile(
  ctx: Context,
  by: number,
  { cycle, upload }: { readonly cycle: number; readonly upload: number },
): Promise<TakenAnswers> {
  const { name, bytes } = await readUpload(ctx, by, upload);
  const file = parse(name, bytes);
  return ctx.store.transaction(async (tx) => {
    const library = await frameworkLibrary(tx);
    const asked = (await allAssessments(tx, library)).filter((a) => a.cycleId === cycle);
    if (asked.length === 0) throw notFound('cycle');
    const measures = new Set(asked.flatMap((a) => a.framework.controls.flatMap((c) => c.measures)));
    const faults = providerFaults(file, library.measures, measures, ctx.now().toISOString().slice(0, 10));
    if (faults.length > 0)
      throw new RefusedError(`“${name}” cannot be taken. Nothing was taken.`, faults.slice(0, 50));
    const hash = createHash('sha256').update(file.provider.toLowerCase()).digest();
    for (const { measure, test, how, until = file.until } of file.measures) {
      const evidence = await keepEvidence(ctx, tx, by, workKey(cycle, measure), { name, bytes, until });
      await tx.run(
        `INSERT INTO provider_answer (cycle_id, measure, provider_hash, provider, passed, how, until, issued, evidence_id, taken_by, taken_at)
         VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
         ON DUPLICATE KEY UPDATE provider = VALUES(provider), passed = VALUES(passed), how = VALUES(how), until = VALUES(until),
           issued = VALUES(issued), taken_by = VALUES(taken_by), taken_at = VALUES(taken_at), evidence_id = VALUES(evidence_id)`,
        [
          ...[cycle, measure, hash, file.provider, test === 'passed', how, until, file.issued],
          ...[evidence, by, toDatetime(ctx.now())],
        ],
      );
      // The file before is kept, and its end counts no more.
      await tx.run(
        `UPDATE measure_evidence SET removed_at = ? WHERE cycle_id = ? AND measure = ? AND provider_hash = ? AND id <> ? AND removed_at IS NULL`,
        [toDatetime(ctx.now()), cycle, measure, hash, evidence],
      );
      await tx.run('UPDATE measure_evidence SET provider_hash = ? WHERE id = ?', [hash, evidence]);
    }
    await dropUpload(tx, upload);
    const passed = file.measures.filter((m) => m.test === 'passed').length;
    await record(tx, ctx.now(), {
      ...{ actor: by, action: 'provider-file.take', object: 'assessment', objectId: asked[0]?.id ?? 0 },
      detail: { cycle, measures: file.measures.map((m) => m.measure), passed },
    });
    return { provider: file.provider, passed, failed: file.measures.length - passed };
  });
}

/** The file is kept beside each measure that it speaks of. */
const MOST_BYTES = 500_000;

function parse(name: string, bytes: Buffer): ProviderFile {
  if (bytes.length > MOST_BYTES)
    throw new RefusedError(`“${name}” is larger than ${MOST_BYTES / 1000} kB.`, [
      { field: 'upload', message: 'Leave what is not asked for out of it.' },
    ]);
  let value: unknown;
  try {
    value = JSON.parse(bytes.toString('utf8').replace(/^\ufeff/, ''));
  } catch (error) {
    throw new RefusedError(`“${name}” cannot be read as JSON.`, [
      { field: 'upload', message: (error as Error).message },
    ]);
  }
  const parsed = ProviderFile.safeParse(value);
  if (parsed.success) return parsed.data;
  throw new RefusedError(
    `“${name}” is no file of a provider’s measures. Nothing was taken.`,
    parsed.error.issues
      .slice(0, 50)
      .map((i) => ({ field: i.path.join('.') || 'upload', message: i.message })),
  );
}
