import { useStore } from '@nanostores/react';
import { useQueryClient } from '@tanstack/react-query';
import { useEffect } from 'react';
import type { StripJob } from '../../../../server/desk/desk-state.ts';
import { deskState } from '../../../desk/live.ts';
import { detectorLink } from '../../links.ts';

/** The newest work of a kind on a detector; its sheet is asked for again when it ends. */
export function useDetectorJob(kind: string, id: string): StripJob | undefined {
  const client = useQueryClient();
  const job = useStore(deskState)?.jobs.find((j) => j.kind === kind && j.link === detectorLink(id));
  const ended = job && job.state !== 'running' && job.state !== 'waiting' ? job.id : undefined;
  useEffect(() => {
    if (ended) void client.invalidateQueries({ queryKey: ['detector', id] });
  }, [ended, client, id]);
  return job;
}
