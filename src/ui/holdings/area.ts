import type { UiArea } from '../area.ts';

export const HOLDINGS: UiArea = {
  area: 'holdings',
  name: 'Holdings',
  action: 'holdings.read',
  view: async () => (await import('./HoldingsArea.tsx')).HoldingsArea,
  reads: {
    detectors: ['detector', 'labelled set'],
    detector: ['detector', 'approval policy'],
    'labelled-sets': ['labelled set'],
    'labelled-set': ['labelled set'],
    'set-figures': ['labelled set'],
  },
  finds: ['a detector'],
};
