import { z } from 'zod';
import { DetectorId } from '../../../../core/holdings/detection/detector/detector.ts';
import {
  DETECTOR_KINDS,
  idOf,
  newDetector,
  OwnDetector,
} from '../../../../core/holdings/detection/detector/own-detector.ts';
import {
  bodyOfAlone,
  patternFromExamples,
} from '../../../../core/holdings/detection/pattern/pattern-example.ts';
import type { Context } from '../../../context.ts';
import * as rules from '../../../rules/rule-store.ts';
import { DETECTOR, insertDetector, takenIds } from './own-detectors.ts';
import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import { RefusedError } from '../../../../core/refusal.ts';
import type { Queries } from '../../../store/pool.ts';

export const NewDetectorInput = z.object({
  name: z.string().trim().min(1, 'Give it a name, such as crew number').max(120),
  kind: z.enum(DETECTOR_KINDS).default('pattern'),
  /** What a pattern detector begins with: how some values are written, or the words themselves. */
  from: z
    .object({
      format: z
        .array(z.string().trim().min(1).max(200))
        .min(1, 'Give one as it is written')
        .max(100)
        .optional(),
      words: z
        .array(z.string().trim().min(1).max(120))
        .min(1, 'Give at least one word')
        .max(20_000)
        .optional(),
    })
    .optional(),
  /** A detector to begin as a copy of. */
  copyOf: DetectorId.optional(),
});

export async function addDetector(
  ctx: Context,
  accountId: number,
  input: z.infer<typeof NewDetectorInput>,
): Promise<{ id: string }> {
  return ctx.store.transaction(async (tx) => {
    const id = idOf(input.name, await takenIds(tx));
    const content =
      input.copyOf === undefined
        ? begun(newDetector(input.kind, id, input.name), input.from)
        : await copyOf(tx, input.copyOf, id, input.name);
    await insertDetector(tx, ctx.now(), accountId, content, input.copyOf ?? '');
    return { id };
  });
}

/** A new pattern detector with what is known of its values; one with letters or signs of its own is surer alone. */
export function begun(detector: OwnDetector, from: z.infer<typeof NewDetectorInput>['from']): OwnDetector {
  if (detector.kind !== 'pattern' || !from) return detector;
  if (from.words) return { ...detector, anchor: { by: 'words', words: from.words }, start: 2 };
  if (!from.format) return detector;
  const pattern = patternFromExamples(from.format);
  const telling = /^(?!\\)[\p{L}]|(?<!\\)\p{Lu}{2}/u.test(bodyOfAlone(pattern) ?? '');
  return { ...detector, anchor: { by: 'pattern', pattern, ignoreCase: false }, start: telling ? 2 : 0 };
}

async function copyOf(store: Queries, from: string, id: string, name: string): Promise<OwnDetector> {
  const builtIn = builtInDetectors().find((d) => d.id === from);
  if (builtIn) return { ...builtIn, id, name, version: 1 };
  const { content } = await rules.readRule(store, DETECTOR, from);
  if (content.kind === 'pattern') return { ...content, id, name, version: 1 };
  throw new RefusedError(`“${content.name}” is made from its own data and cannot be copied.`, [
    { field: 'copyOf', message: 'Copy a pattern detector, or make a new one.' },
  ]);
}
