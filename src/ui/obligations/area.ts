import type { UiArea } from '../area.ts';

const WORK = ['framework', 'assessment', 'measure work', 'measure evidence', 'readiness weights'];

export const OBLIGATIONS: UiArea = {
  area: 'obligations',
  name: 'Obligations',
  action: 'obligations.read',
  view: async () => (await import('./ObligationsArea.tsx')).ObligationsArea,
  commands: [
    {
      words: 'Start an assessment',
      action: 'obligations.edit',
      link: '/obligations/assessments?new=assessment',
    },
    {
      words: 'Take in a framework',
      action: 'obligations.edit',
      link: '/obligations/library?new=framework',
    },
    { words: 'Library of frameworks', action: 'obligations.read', link: '/obligations/library' },
    {
      words: 'Measures whose test fails',
      action: 'obligations.read',
      link: '/obligations/measures?show=failed',
    },
  ],
  reads: {
    frameworks: ['framework'],
    framework: WORK,
    'framework-differences': ['framework'],
    assessments: WORK,
    'assessment-view': WORK,
    assessment: ['assessment'],
    'framework-start': WORK,
    measures: WORK,
    'measure-view': WORK,
    'measure work': ['measure work'],
    'readiness weights': ['readiness weights'],
    'assessable-systems': ['system'],
    'work-people': ['account', 'account roles'],
  },
  finds: ['an assessment', 'a framework'],
};
