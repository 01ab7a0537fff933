import type { CoreArea } from '../area.ts';

/** What every desk has, whatever its areas are. */
export const DESK = {
  area: 'desk',
  actions: {
    'today.read': { words: 'seeing Today', roles: 'everyone' },
    'today.team': { words: 'seeing what others have on Today', roles: [] },
    'jobs.read': { words: 'seeing running work', roles: 'everyone' },
    'jobs.cancel': { words: 'cancelling running work', roles: ['site manager', 'data steward'] },
    'approvals.edit': { words: 'saying who must agree', roles: [] },
    'files.upload': {
      words: 'sending files',
      roles: ['site manager', 'data steward', 'records manager', 'access reviewer'],
    },
  },
  objects: {
    run: { words: 'run', see: 'jobs.read' },
    job: { words: 'job', see: 'jobs.read' },
    'approval policy': { words: 'approval policy', see: 'today.read' },
    upload: { words: 'file', see: 'files.upload' },
  },
  today: {
    process: { words: 'failure', tone: 'wrong', place: 5, does: 'See why' },
    message: { words: 'failure', tone: 'wrong', place: 6, does: 'See why' },
    approval: { words: 'to agree', tone: 'open', place: 15, does: 'Read and decide' },
    'approval refused': { words: 'refused', tone: 'news', place: 16, does: 'Read why' },
    failure: { words: 'failure', tone: 'wrong', place: 30, does: 'See why' },
  },
} as const satisfies CoreArea;
