import { readinessOf, type MeasureStanding } from '../../core/obligations/readiness/readiness.ts';
import { NEW_WORK, type MeasureWork } from '../../core/obligations/work/measure-work.ts';
import type { FigureRow } from '../../core/figures/figure-row.ts';
import type { Figure } from '../figures/figure.ts';
import { cycleTally } from './assessments/assessment-view.ts';
import type { Assessment } from './assessments/assessment-object.ts';
import { assessAll, readStanding, type Standing } from './standing.ts';
import { workKey } from './work/measure-work-object.ts';

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
    ...{ from: 'share', parts: ['framework'] },
    async rows(store, now) {
      return assessAll(await readStanding(store, now)).map(({ assessment, readiness: { tally } }) => ({
        ...{ key: String(assessment.id), name: nameOf(assessment), n: tally.given, of: tally.applicable },
        ...{
          link: `/obligations/assessments/${assessment.id}`,
          parts: { framework: assessment.framework.name },
        },
      }));
    },
  },
  {
    ...ofMeasures({
      id: 'obligations.failed',
      name: 'Measures whose test fails',
      definition:
        'Measures that an assessment asks for and whose last test, by the program or a person, failed.',
      counts: ({ why }) => why === 'test failed',
    }),
    link: '/obligations/measures?show=failed',
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
  ofRows({
    id: 'obligations.assessments-late',
    name: 'Assessments past their day',
    definition: 'Assessments whose due day is over and whose readiness is less than 100.',
    unit: 'assessment',
    link: '/obligations/assessments',
    parts: ['framework'],
    find: (standing) => {
      const all = assessAll(standing);
      const late = all.filter(
        ({ assessment: { content }, readiness: { tally } }) =>
          content.due !== null && content.due < standing.day && tally.given < tally.applicable,
      );
      return { rows: late.map((l) => assessmentRow(l.assessment)), of: all.length, is: all.length > 0 };
    },
  }),
  ofRows({
    id: 'obligations.providers-late',
    name: 'Providers whose last word is past its day',
    definition:
      'What providers said of their measures in a cycle and that counts no more; of all that they said last.',
    unit: 'answer',
    link: '/obligations/measures',
    find: ({ providers, day, library }) => {
      const all = [...providers].flatMap(([cycle, of]) =>
        [...of].flatMap(([measure, answers]) => answers.map((answer, n) => ({ cycle, measure, answer, n }))),
      );
      const late = all.filter(({ answer }) => answer.until < day);
      return {
        rows: late.map(({ cycle, measure, n }) => ({
          ...{ key: `${cycle} ${measure} ${n}`, name: library.measures.get(measure)?.name ?? measure, n: 1 },
          ...{ link: `/obligations/measures/${workKey(cycle, measure)}`, parts: {} },
        })),
        of: all.length,
        is: true,
      };
    },
  }),
  ofRows({
    id: 'obligations.versions-waiting',
    name: 'Newer versions that nobody decided on',
    definition:
      'Assessments of whose framework there is a newer version, and of which nobody said when it is taken, or why not.',
    unit: 'assessment',
    link: '/obligations/assessments',
    parts: ['framework'],
    find: ({ assessments, library }) => {
      const waiting = assessments.filter(({ framework, content }) => {
        const newest = library.framework(framework.id)?.version ?? '';
        return newest > framework.version && content.newer?.version !== newest;
      });
      return { rows: waiting.map(assessmentRow), of: assessments.length, is: assessments.length > 0 };
    },
  }),
];

/** A figure that counts rows which are found in how all stands. */
function ofRows({
  find,
  ...words
}: Pick<Figure, 'id' | 'name' | 'definition' | 'unit' | 'link' | 'parts'> & {
  /** `is`: whether there is anything to count. */
  readonly find: (standing: Standing) => {
    readonly rows: readonly FigureRow[];
    readonly of: number;
    readonly is: boolean;
  };
}): Figure {
  return {
    ...seen,
    ...words,
    async value(store, now) {
      const { rows, of, is } = find(await readStanding(store, now));
      return { value: is ? rows.length : null, of };
    },
    async rows(store, now) {
      return find(await readStanding(store, now)).rows;
    },
  };
}

function nameOf({ cycle, framework }: Assessment): string {
  return `${framework.name}, ${cycle}`;
}

function assessmentRow(assessment: Assessment): FigureRow {
  return {
    ...{ key: String(assessment.id), name: nameOf(assessment), n: 1 },
    ...{ link: `/obligations/assessments/${assessment.id}`, parts: { framework: assessment.framework.name } },
  };
}

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
  return ofRows({
    ...words,
    unit: 'measure',
    link: '/obligations/measures',
    parts: ['framework'],
    find: (standing) => {
      const all = new Map(
        assessAll(standing).flatMap(({ assessment, readiness }) =>
          readiness.controls.flatMap((c) =>
            c.measures.flatMap((m) =>
              m.applies
                ? [[workKey(assessment.cycleId, m.id), { assessment, id: m.id, why: m.why }] as const]
                : [],
            ),
          ),
        ),
      );
      const found = [...all].filter(([, { assessment, id, why }]) =>
        counts({ work: standing.work.get(assessment.cycleId)?.get(id) ?? NEW_WORK, why }, standing.day),
      );
      return {
        rows: found.map(([key, { id, assessment }]) => ({
          ...{ key, name: standing.library.measures.get(id)?.name ?? id, n: 1 },
          ...{ link: `/obligations/measures/${key}`, parts: { framework: assessment.framework.name } },
        })),
        of: all.size,
        is: all.size > 0,
      };
    },
  });
}
