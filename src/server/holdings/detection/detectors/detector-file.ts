import { z } from 'zod';
import { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import { RefusedError } from '../../../../core/refusal.ts';

/** Detectors as they are imported and exported; `docs/detector.schema.json` describes it. */
export const DetectorFile = z.object({
  format: z.literal('yare-warden/detectors'),
  version: z.literal(1),
  detectors: z.array(PatternDetector).min(1).max(2000),
});
export type DetectorFile = z.infer<typeof DetectorFile>;

/** Throws a RefusedError that names each field at fault. */
export function readDetectorFile(text: string): readonly PatternDetector[] {
  let value: unknown;
  try {
    value = JSON.parse(text.replace(/^\ufeff/, ''));
  } catch (error) {
    throw new RefusedError(`This is no JSON: ${(error as Error).message}`, [
      { field: 'file', message: 'Give a file of detectors as the desk exports them.' },
    ]);
  }
  const parsed = DetectorFile.safeParse(
    Array.isArray(value) ? { format: 'yare-warden/detectors', version: 1, detectors: value } : value,
  );
  if (!parsed.success)
    throw new RefusedError(
      'These are no detectors that can be read.',
      parsed.error.issues.slice(0, 20).map((i) => ({ field: i.path.join('.'), message: i.message })),
    );
  return parsed.data.detectors;
}

export function writeDetectorFile(detectors: readonly PatternDetector[]): string {
  return `${JSON.stringify({ format: 'yare-warden/detectors', version: 1, detectors: [...detectors] } satisfies DetectorFile, undefined, 2)}\n`;
}
