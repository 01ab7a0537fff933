import { readinessOf } from '../../core/obligations/readiness/readiness.ts';
import type { Figure } from '../figures/figure.ts';
import { cycleTally } from './assessments/assessment-view.ts';
import { assessAll, readStanding } from './standing.ts';

export const OBLIGATIONS_FIGURES: readonly Figure[] = [
  {
    id: 'obligations.readiness',
    name: 'Readiness in all',
    definition:
      'Points given of points that apply, over all assessments that run. Of each of them what it weighs is shared by its measures, and given where their test passed and their evidence counts.',
    unit: '%',
    good: 'more',
    see: 'obligations.read',
    link: '/obligations',
    async value(store, now) {
      const readiness = readinessOf(cycleTally(assessAll(await readStanding(store, now))));
      return { value: readiness === null ? null : readiness / 100 };
    },
  },
  {
    id: 'obligations.failed',
    name: 'Measures whose test fails',
    definition:
      'Measures that an assessment asks for and whose last test, by the program or a person, failed.',
    unit: 'measure',
    good: 'less',
    see: 'obligations.read',
    link: '/obligations/measures?show=failed',
    async value(store, now) {
      const assessed = assessAll(await readStanding(store, now));
      if (assessed.length === 0) return { value: null };
      const failed = assessed.flatMap(({ assessment, readiness }) =>
        readiness.controls.flatMap((c) =>
          c.measures.flatMap((m) =>
            m.applies && m.why === 'test failed' ? [`${assessment.cycleId} ${m.id}`] : [],
          ),
        ),
      );
      return { value: new Set(failed).size };
    },
  },
];
