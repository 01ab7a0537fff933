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
    'holdings.sources': { words: 'taking in systems and sources', roles: ['data steward'] },
    'holdings.survey': { words: 'surveying sources', roles: ['data steward'] },
    'holdings.judge': {
      words: 'judging findings and keeping lenses',
      roles: ['data steward', 'records manager', 'request handler'],
    },
    'holdings.records': {
      words: 'keeping records of processing',
      roles: ['data steward', 'records manager'],
    },
    'holdings.reveal': { words: 'seeing found values in clear', roles: [] },
  },
  objects: {
    detector: { words: 'detector', see: 'holdings.read' },
    'labelled set': { words: 'labelled set', see: 'holdings.read' },
    system: { words: 'system', see: 'holdings.read' },
    source: { words: 'source', see: 'holdings.read' },
    listing: { words: 'listing', see: 'holdings.read' },
    survey: { words: 'survey', see: 'holdings.read' },
    item: { words: 'item', see: 'holdings.read' },
    lens: { words: 'lens', see: 'holdings.read' },
    activity: { words: 'record of processing', see: 'holdings.read' },
  },
  scopes: { source: { words: 'sources' } },
  today: {
    'source failed': { words: 'not read', tone: 'wrong', place: 30, does: 'See why' },
    'stores found': { words: 'listing', tone: 'news', place: 60, does: 'Look them over' },
  },
} as const satisfies CoreArea;
