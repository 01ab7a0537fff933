import type { UiArea } from '../area.ts';

export const HOLDINGS: UiArea = {
  area: 'holdings',
  name: 'Holdings',
  action: 'holdings.read',
  view: async () => (await import('./HoldingsArea.tsx')).HoldingsArea,
  commands: [
    { words: 'Take in a source', action: 'holdings.sources', link: '/holdings/sources?new=source' },
    { words: 'New survey', action: 'holdings.survey', link: '/holdings/surveys?new=survey' },
  ],
  reads: {
    items: ['run', 'item', 'source', 'detector'],
    item: ['run', 'item', 'detector'],
    lenses: ['lens', 'run', 'item'],
    judgements: ['item', 'detector'],
    'item-names': ['source', 'detector'],
    systems: ['system', 'source'],
    sources: ['system', 'source', 'run'],
    system: ['system'],
    source: ['source'],
    'source-view': ['source', 'run'],
    surveys: ['survey', 'run'],
    survey: ['survey'],
    'survey-view': ['survey', 'run'],
    'survey-names': ['source', 'detector'],
    detectors: ['detector', 'labelled set'],
    detector: ['detector', 'approval policy'],
    'labelled-sets': ['labelled set'],
    'labelled-set': ['labelled set'],
    'set-figures': ['labelled set'],
  },
  finds: ['a source', 'a detector'],
};
