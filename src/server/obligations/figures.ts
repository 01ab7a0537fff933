import { readinessOf, type MeasureStanding } from '../../core/obligations/readiness/readiness.ts';
import { NEW_WORK, type MeasureWork } from '../../core/obligations/work/measure-work.ts';
import type { Figure } from '../figures/figure.ts';
import { cycleTally } from './assessments/assessment-view.ts';
import { assessAll, readStanding } from './standing.ts';

const seen = { good: 'less', see: 'obligations.read' } as const;

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
  ofMeasures({
    id: 'obligations.late',
    name: 'Measures past their day',
    definition: 'Measures that an assessment asks for, that are planned or in work, and whose day is over.',
    counts: ({ work }, day) => isOpen(work) && work.due !== null && work.due < day,
  }),
  ofMeasures({
    id: 'obligations.unowned',
    name: 'Measures that nobody owns',
    definition: 'Measures that an assessment asks for, that are planned or in work, and that nobody owns.',
    counts: ({ work }) => isOpen(work) && work.owner === null,
  }),
  ofMeasures({
    id: 'obligations.evidence-late',
    name: 'Measures whose evidence is past its date',
    definition: 'Measures that an assessment asks for, whose test passed, and whose evidence counts no more.',
    counts: ({ why }) => why === 'evidence past its date',
  }),
  ofMeasures({
    id: 'obligations.untested',
    name: 'Measures that are done and not tested',
    definition:
      'Measures that somebody says are done, that the program does not test, and that nobody tested.',
    counts: ({ work, why }) => work.state === 'done' && why === 'not tested',
  }),
  {
    ...seen,
    id: 'obligations.assessments-late',
    name: 'Assessments past their day',
    definition: 'Assessments whose due day is over and whose readiness is less than 100.',
    unit: 'assessment',
    link: '/obligations/assessments',
    async value(store, now) {
      const standing = await readStanding(store, now);
      const all = assessAll(standing);
      const late = all.filter(
        ({ assessment: { content }, readiness: { tally } }) =>
          content.due !== null && content.due < standing.day && tally.given < tally.applicable,
      );
      return { value: all.length === 0 ? null : late.length, of: all.length };
    },
  },
  {
    ...seen,
    id: 'obligations.providers-late',
    name: 'Providers whose last word is past its day',
    definition:
      'What providers said of their measures in a cycle and that counts no more; of all that they said last.',
    unit: 'answer',
    link: '/obligations/measures',
    async value(store, now) {
      const { providers, day } = await readStanding(store, now);
      const all = [...providers.values()].flatMap((of) => [...of.values()].flat());
      return { value: all.filter((a) => a.until < day).length, of: all.length };
    },
  },
  {
    ...seen,
    id: 'obligations.versions-waiting',
    name: 'Newer versions that nobody decided on',
    definition:
      'Assessments of whose framework there is a newer version, and of which nobody said when it is taken, or why not.',
    unit: 'assessment',
    link: '/obligations/assessments',
    async value(store, now) {
      const { assessments, library } = await readStanding(store, now);
      const waiting = assessments.filter(({ framework, content }) => {
        const newest = library.framework(framework.id)?.version ?? '';
        return newest > framework.version && content.newer?.version !== newest;
      });
      return { value: assessments.length === 0 ? null : waiting.length, of: assessments.length };
    },
  },
];

const isOpen = ({ state }: MeasureWork) => state === 'planned' || state === 'in work';

/** Measures that some assessment asks for and that apply there, each once in its cycle. */
function ofMeasures({
  counts,
  ...words
}: Pick<Figure, 'id' | 'name' | 'definition'> & {
  readonly counts: (
    one: { readonly work: MeasureWork; readonly why: MeasureStanding['why'] },
    day: string,
  ) => boolean;
}): Figure {
  return {
    ...seen,
    ...words,
    unit: 'measure',
    link: '/obligations/measures',
    async value(store, now) {
      const standing = await readStanding(store, now);
      const all = new Map(
        assessAll(standing).flatMap(({ assessment, readiness }) =>
          readiness.controls.flatMap((c) =>
            c.measures.flatMap((m) =>
              m.applies
                ? [
                    [
                      `${assessment.cycleId} ${m.id}`,
                      { cycle: assessment.cycleId, id: m.id, why: m.why },
                    ] as const,
                  ]
                : [],
            ),
          ),
        ),
      );
      const found = [...all.values()].filter(({ cycle, id, why }) =>
        counts({ work: standing.work.get(cycle)?.get(id) ?? NEW_WORK, why }, standing.day),
      );
      return { value: all.size === 0 ? null : found.length, of: all.size };
    },
  };
}
