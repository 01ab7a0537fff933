import type { UiArea } from '../area.ts';

const ESTATE = ['estate', 'access source'];

export const ACCESS: UiArea = {
  area: 'access',
  name: 'Access',
  action: 'access.read',
  view: async () => (await import('./AccessArea.tsx')).AccessArea,
  commands: [
    { words: 'Who reaches what: places', action: 'access.read', link: '/access/places' },
    { words: 'Who reaches what: people and groups', action: 'access.read', link: '/access/people' },
    { words: 'What is too broad', action: 'access.read', link: '/access/broad' },
    { words: 'New source of rights', action: 'access.sources', link: '/access/sources?new=source' },
  ],
  lensActs: [
    {
      words: 'Review who reaches it',
      action: 'access.review',
      link: (line) => `/access/reviews?new=review&lens=${encodeURIComponent(line)}`,
    },
  ],
  reads: {
    'access-shelf': [...ESTATE, 'access change', 'access review', 'hands rule'],
    'access-places': ESTATE,
    'access-place': [...ESTATE, 'access watch', 'item', 'run'],
    'access-who': ESTATE,
    'access-grants': ESTATE,
    'access-below': ESTATE,
    'access-pair': ESTATE,
    'access-people': ESTATE,
    'access-person': ESTATE,
    'access-reached': ESTATE,
    'access-events': ESTATE,
    'access-changes': ['access change'],
    'access-change': ['access change', 'hands rule', ...ESTATE],
    'access-steps': ['access change', 'estate'],
    'access-findings': ESTATE,
    'access-sources': ['access source'],
    'access-source-lies': [...ESTATE, 'source'],
    'access-holdings': ['source'],
    'access-hands': ['hands rule', ...ESTATE],
    'access-reviews': ['access review'],
    'access-review': ['access review'],
  },
  finds: ['a place', 'a person or group'],
};
