import type { CoreArea } from '../area.ts';

export const HOLDINGS = {
  area: 'holdings',
  actions: {
    'holdings.read': {
      words: 'seeing detectors and findings',
      roles: ['data steward', 'records manager', 'request handler', 'auditor'],
    },
    'holdings.edit': {
      words: 'changing detectors and reading the texts they are made from',
      roles: ['data steward'],
    },
    'holdings.put-in-force': { words: 'putting a detector in force', roles: [] },
  },
  objects: {
    detector: { words: 'detector', see: 'holdings.read' },
    'labelled set': { words: 'labelled set', see: 'holdings.read' },
  },
} as const satisfies CoreArea;
