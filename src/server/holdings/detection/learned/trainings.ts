import { gunzipSync, gzipSync } from 'node:zlib';
import { z } from 'zod';
import type { Json } from '../../../../core/rules/change.ts';
import type {
  LearnedDetector,
  OwnDetector,
} from '../../../../core/holdings/detection/detector/own-detector.ts';
import {
  chooseThreshold,
  judge,
  type Judgement,
  type LearnedModel,
  type Training,
} from '../../../../core/holdings/detection/learned/learned.ts';
import { notFound, RefusedError } from '../../../../core/refusal.ts';
import { versionInForce } from '../../../../core/rules/rule.ts';
import type { Context } from '../../../context.ts';
import { record } from '../../../evidence/ledger.ts';
import { addJob, openJobAbout } from '../../../jobs/job.ts';
import { FinalError, type JobKind } from '../../../jobs/runner.ts';
import { saveRuleDraft } from '../../../rules/rule-edits.ts';
import * as rules from '../../../rules/rule-store.ts';
import { readRuleVersion } from '../../../rules/rule-versions.ts';
import { Bytes, Count, Instant, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { updateMany } from '../../../store/update-many.ts';
import { detectorPool } from '../threads/shared-threads.ts';
import { readTexts } from '../detectors/detector-texts.ts';
import { DETECTOR } from '../detectors/own-detectors.ts';

const TRAIN_MS = 900_000;
const SEED = 1;

/** What a training came to; scores in the order of `texts`. */
export interface TrainingFigures extends Omit<Training, 'model'> {
  /** Ids of the texts it learned from. */
  readonly texts: readonly string[];
  readonly names: readonly string[];
  readonly positive: readonly boolean[];
  readonly words: number;
  readonly seconds: number;
}

export interface ListedTraining {
  readonly number: number;
  readonly trainedAt: string;
  readonly trainedBy: string | null;
  readonly figures: TrainingFigures;
}

function packed(value: unknown): Buffer {
  return gzipSync(JSON.stringify(value));
}

function unpacked<T>(bytes: Buffer): T {
  return JSON.parse(gunzipSync(bytes).toString()) as T;
}

/** Newest first, a few. */
export async function listTrainings(store: Queries, id: string): Promise<readonly ListedTraining[]> {
  const rows = await store.all(
    z.object({ number: z.number(), figures: Bytes, trained_at: Instant, trained_by: z.string().nullable() }),
    'SELECT t.number, t.figures, t.trained_at, a.name AS trained_by FROM training t LEFT JOIN account a ON a.id = t.trained_by WHERE t.detector_id = ? ORDER BY t.number DESC LIMIT 6',
    [id],
  );
  return rows.map((r) => ({
    number: r.number,
    trainedAt: r.trained_at,
    trainedBy: r.trained_by,
    figures: unpacked<TrainingFigures>(r.figures),
  }));
}

/** The threshold a detector uses: set by hand, or where the errors of its training cost least. */
export function thresholdOf(
  of: LearnedDetector,
  figures: Pick<TrainingFigures, 'scores' | 'positive'>,
): number {
  if (of.threshold !== null) return of.threshold;
  return chooseThreshold(
    figures.scores,
    figures.positive.map((p) => (p ? 1 : 0)),
    of.costs,
  );
}

export async function readModel(
  store: Queries,
  id: string,
  number: number,
): Promise<{ readonly model: LearnedModel; readonly figures: TrainingFigures }> {
  const row = await store.one(
    z.object({ model: Bytes, figures: Bytes }),
    'SELECT model, figures FROM training WHERE detector_id = ? AND number = ?',
    [id, number],
  );
  if (!row) throw notFound('training');
  return { model: unpacked(row.model), figures: unpacked(row.figures) };
}

/** How the model in force and the draft’s do on the same texts: each text judged by a model that had not seen it. */
export interface TrainingComparison {
  readonly texts: number;
  readonly inForce: { readonly version: number; readonly judgement: Judgement };
  readonly draft: Judgement;
}

export async function compareWithForce(store: Queries, id: string): Promise<TrainingComparison | undefined> {
  const { content, stage } = await rules.readRule(store, DETECTOR, id);
  const version = versionInForce(stage);
  if (content.kind !== 'learned' || version === undefined || content.training === 0) return undefined;
  const force = await readRuleVersion(store, DETECTOR, id, version);
  if (force.kind !== 'learned') return undefined;
  const [old, now] = await Promise.all([
    readModel(store, id, force.training),
    readModel(store, id, content.training),
  ]);
  const both = now.figures.texts.flatMap((text, i) => {
    const was = old.figures.texts.indexOf(text);
    return was >= 0 && old.figures.positive[was] !== undefined ? [{ i, was }] : [];
  });
  const labels = both.map(({ i }) => (now.figures.positive[i] ? 1 : 0));
  return {
    texts: both.length,
    inForce: {
      version,
      judgement: judge(
        both.map(({ was }) => old.figures.scores[was] as number),
        labels,
        thresholdOf(force, old.figures),
      ),
    },
    draft: judge(
      both.map(({ i }) => now.figures.scores[i] as number),
      labels,
      thresholdOf(content, now.figures),
    ),
  };
}

const Payload = z.object({ detector: z.string(), account: z.number() });

export async function queueTraining(ctx: Context, accountId: number, id: string): Promise<{ job: string }> {
  const { content } = await rules.readRule(ctx.store, DETECTOR, id);
  if (content.kind !== 'learned') throw notFound('learned detector');
  const counts = await ctx.store.all(
    z.object({ role: z.string(), n: Count }),
    'SELECT role, COUNT(*) AS n FROM detector_text WHERE detector_id = ? GROUP BY role',
    [id],
  );
  const of = (role: string) => counts.find((c) => c.role === role)?.n ?? 0;
  if (of('example') < 5 || of('counter-example') < 5)
    throw new RefusedError(
      `There are ${of('example')} examples and ${of('counter-example')} counter-examples.`,
      [{ field: 'texts', message: 'Five of each at the very least, fifty to be relied on.' }],
    );
  return ctx.store.transaction(async (tx) => {
    await rules.readRule(tx, DETECTOR, id, true);
    const about = { object: 'detector', id };
    const open = await openJobAbout(tx, 'train-detector', about);
    if (open !== undefined) return { job: open };
    const job = await addJob(tx, ctx.now(), {
      kind: 'train-detector',
      title: `Training ${content.name}`,
      about,
      payload: { detector: id, account: accountId },
      createdBy: accountId,
      link: `/holdings/detectors/${id}`,
    });
    return { job };
  });
}

export const trainJob: JobKind = {
  kind: 'train-detector',
  lane: 'long',
  see: 'holdings.read',
  start: 'holdings.edit',
  work: async (ctx, run): Promise<Json> => {
    const { detector: id, account } = Payload.parse(run.job.payload);
    const { content } = await rules.readRule(ctx.store, DETECTOR, id);
    if (content.kind !== 'learned') throw new FinalError('This detector does not learn any more.');
    const texts = await readTexts(ctx, id, ['example', 'counter-example']);
    const began = Date.now();
    const training = await detectorPool().run(
      {
        what: 'train',
        examples: texts.map((t) => ({ name: t.name, text: t.text, positive: t.role === 'example' })),
        seed: SEED,
        costs: content.costs,
      },
      TRAIN_MS,
      (share) =>
        run.progress({
          words: `Learning from ${texts.length} texts`,
          share,
          secondsLeft: Math.round((((Date.now() - began) / 1000) * (1 - share)) / Math.max(0.05, share)),
        }),
    );
    if (run.signal.aborted) return { cancelled: true };
    const number = await ctx.store.transaction((tx) =>
      storeTraining(tx, ctx, account, id, texts, training, (Date.now() - began) / 1000),
    );
    return { number };
  },
};

/** Keeps a training, puts it into the draft, and notes each text’s score. */
export async function storeTraining(
  tx: Queries,
  ctx: Context,
  accountId: number,
  id: string,
  texts: readonly { readonly id: string; readonly name: string; readonly role: string }[],
  { model, ...rest }: Training,
  seconds: number,
  at = ctx.now(),
): Promise<number> {
  const rule = await rules.readRule(tx, DETECTOR, id, true);
  const last = await tx.one(
    z.object({ n: Count }),
    'SELECT MAX(number) AS n FROM training WHERE detector_id = ?',
    [id],
  );
  const number = (last?.n ?? 0) + 1;
  const figures: TrainingFigures = {
    ...rest,
    texts: texts.map((t) => t.id),
    names: texts.map((t) => t.name),
    positive: texts.map((t) => t.role === 'example'),
    words: model.words.length,
    seconds,
  };
  await tx.run(
    'INSERT INTO training (detector_id, number, model, figures, trained_by, trained_at) VALUES (?, ?, ?, ?, ?, ?)',
    [id, number, packed(model), packed(figures), accountId, toDatetime(at)],
  );
  const scores = texts.map((t, i) => [t.id, { score: rest.scores[i] as number }] as const);
  await updateMany(tx, 'detector_text', 'id', new Map(scores));
  await saveRuleDraft(tx, at, DETECTOR, accountId, id, {
    revision: rule.revision,
    base: rule.content,
    content: { ...rule.content, training: number } as OwnDetector,
  });
  await record(tx, at, {
    actor: accountId,
    action: 'detector.train',
    object: 'detector',
    objectId: id,
    detail: {
      number,
      examples: figures.positive.filter(Boolean).length,
      counterExamples: figures.positive.filter((p) => !p).length,
      precision: rest.judgement.precision.value,
      recall: rest.judgement.recall.value,
    },
  });
  return number;
}
