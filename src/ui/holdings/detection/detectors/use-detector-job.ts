import { useStore } from '@nanostores/react';
import type { StripJob } from '../../../../server/desk/desk-state.ts';
import { deskState } from '../../../desk/live.ts';
import { detectorLink } from '../../links.ts';

/** The newest work of a kind on a detector; its sheet is asked for again when it ends. */
export function useDetectorJob(kind: string, id: string): StripJob | undefined {
  return useStore(deskState)?.jobs.find((j) => j.kind === kind && j.link === detectorLink(id));
}
