import { likenessTemplate } from '../../../../core/holdings/detection/likeness/likeness.ts';
import type { OwnDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import { notFound, RefusedError } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { readRule } from '../../../rules/rule-store.ts';
import { dropUpload, readUpload } from '../../../files/uploads.ts';
import { detectorPool } from '../threads/shared-threads.ts';
import {
  addText,
  extractUpload,
  listTexts,
  type ListedText,
  type TextInput,
  type TextRole,
} from './detector-texts.ts';
import { DETECTOR, findOwnDetector, usesOf, type DetectorUse, type FoundDetector } from './own-detectors.ts';
import { listBuilds, type ListedBuild } from '../roster/roster-builds.ts';
import type { TableSight } from '../roster/table-sight.ts';
import {
  compareWithForce,
  listTrainings,
  type ListedTraining,
  type TrainingComparison,
} from '../learned/trainings.ts';
import { describeBuiltIn, findBuiltIn, type DescribedDetector } from './trial.ts';

export type OpenedDetector =
  | (DescribedDetector & { readonly origin: 'built-in'; readonly usedBy: readonly DetectorUse[] })
  | (FoundDetector & {
      readonly origin: 'own';
      /** Of a roster. */
      readonly builds: readonly ListedBuild[];
      /** Of a likeness or learned detector. */
      readonly texts: readonly ListedText[];
      readonly trainings: readonly ListedTraining[];
      readonly comparison: TrainingComparison | null;
    });

/** A detector with all that its sheet shows. Throws a RefusedError (404). */
export async function openDetector(ctx: Context, id: string): Promise<OpenedDetector> {
  const { store } = ctx;
  const own = await findOwnDetector(store, id);
  if (!own) return { origin: 'built-in', ...describeBuiltIn(id), usedBy: await usesOf(store, id) };
  const { content } = own;
  const learned = content.kind === 'learned';
  return {
    origin: 'own',
    ...own,
    builds: content.kind === 'roster' ? await listBuilds(store, content) : [],
    texts: learned || content.kind === 'likeness' ? await listTexts(store, id) : [],
    trainings: learned ? await listTrainings(store, id) : [],
    comparison: learned ? ((await compareWithForce(store, id)) ?? null) : null,
  };
}

/** A detector as it would be tried: a draft of one’s own, or a built-in one. Throws a RefusedError (404). */
export async function detectorToTry(ctx: Context, id: string): Promise<OwnDetector> {
  const own = await findOwnDetector(ctx.store, id);
  return own?.content ?? findBuiltIn(id);
}

/** Looks at the columns of a table that was sent; it stays until it is built. */
export async function sightTable(ctx: Context, accountId: number, upload: number): Promise<TableSight> {
  const { name, bytes } = await readUpload(ctx, accountId, upload);
  try {
    return await detectorPool().run({ what: 'table', bytes, file: name }, 120_000);
  } catch (error) {
    await dropUpload(ctx.store, upload);
    throw new RefusedError(`“${name}” is no table that can be read.`, [
      { field: 'upload', message: (error as Error).message },
    ]);
  }
}

/** Adds a text that a detector is made from; a blank document must have enough words to be recognised. */
export async function addDetectorText(
  ctx: Context,
  accountId: number,
  id: string,
  role: TextRole,
  input: TextInput,
) {
  const { content } = await readRule(ctx.store, DETECTOR, id);
  if (
    (content.kind === 'likeness') !== (role === 'template') ||
    content.kind === 'pattern' ||
    content.kind === 'roster'
  )
    throw notFound('detector that takes such a text');
  if (role !== 'template') return addText(ctx, accountId, id, role, input);
  const text = 'upload' in input ? await extractUpload(ctx, accountId, input.upload) : input;
  try {
    likenessTemplate(text.name, text.text);
  } catch (error) {
    throw new RefusedError((error as Error).message, [
      { field: 'upload', message: 'Give a longer document.' },
    ]);
  }
  return addText(ctx, accountId, id, role, { ...text, origin: 'file' });
}
