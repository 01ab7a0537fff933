import type { CoreArea } from '../area.ts';

export const OBLIGATIONS = {
  area: 'obligations',
  actions: {
    'obligations.read': {
      words: 'seeing what the law asks and how far we are',
      roles: [
        'site manager',
        'data steward',
        'records manager',
        'access reviewer',
        'request handler',
        'auditor',
      ],
    },
    'obligations.work': {
      words: 'working on measures, and testing those of others',
      roles: ['site manager', 'data steward', 'records manager', 'access reviewer', 'request handler'],
    },
    'obligations.edit': { words: 'starting and changing assessments', roles: [] },
  },
  objects: {
    assessment: { words: 'assessment', see: 'obligations.read' },
    'readiness weights': { words: 'what controls weigh', see: 'obligations.read' },
    'measure work': { words: 'measure', see: 'obligations.read' },
    framework: { words: 'framework', see: 'obligations.read' },
    'measure evidence': { words: 'evidence', see: 'obligations.read' },
  },
  today: {
    'measure failed': { words: 'test failed', tone: 'wrong', place: 25, does: 'See why' },
    'measure due': { words: 'measure due', tone: 'open', place: 55, does: 'Do it' },
  },
} as const satisfies CoreArea;
