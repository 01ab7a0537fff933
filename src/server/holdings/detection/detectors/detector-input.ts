import { z } from 'zod';
import { DetectorId } from '../../../../core/holdings/detection/detector/detector.ts';

/** The detector a request is about. */
export const DetectorInput = z.object({ id: DetectorId });

export function detectorObject(_ctx: unknown, { id }: { id: string }) {
  return { kind: 'detector', id };
}

/** The labelled set a request is about. */
export const SetInput = z.object({ set: z.coerce.number().int().positive() });

export function setObject(_ctx: unknown, { set }: { set: number }) {
  return { kind: 'labelled set', id: set };
}

/** A row’s number in a path. */
export const RowNumber = z.string().regex(/^\d{1,18}$/, 'a number');
