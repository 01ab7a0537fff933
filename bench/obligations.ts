import { CONTROL_KINDS, DUTIES, type Control } from '../src/core/obligations/framework/framework.ts';
import { readinessOf, together, wholePoints } from '../src/core/obligations/readiness/readiness.ts';
import { USUAL_WEIGHTS } from '../src/core/obligations/readiness/weights.ts';
import { NEW_ASSESSMENT } from '../src/core/obligations/work/assessment-content.ts';
import { NEW_WORK, type MeasureWork } from '../src/core/obligations/work/measure-work.ts';
import { shippedLibrary } from '../src/server/obligations/library/shipped-library.ts';
import { assessAll, nextIn, type Standing } from '../src/server/obligations/standing.ts';
import { figure, median } from './figure.ts';

const ASSESSMENTS = 40;
const CONTROLS = 20_000;
const CYCLES = 4;
const TIMES = 25;

/** Assessments of made-up frameworks over the measures that ship; half of their work is done and tested. */
function standing(): Standing {
  const ids = [...shippedLibrary().measures.keys()];
  const controls = (a: number): Control[] =>
    Array.from({ length: CONTROLS / ASSESSMENTS }, (_, i) => ({
      ...{
        id: `c${i}`,
        family: `f${i % 12}`,
        ref: `Art. ${i}`,
        name: `Control ${i}`,
        guidance: 'As it stands.',
      },
      duty: DUTIES[i % 2] ?? 'required',
      kind: CONTROL_KINDS[i % 3] ?? 'prevents',
      risk: 1 + (i % 5),
      measures: Array.from(
        { length: 1 + (i % 6) },
        (_m, m) => ids[(a * 31 + i * 7 + m * 13) % ids.length] ?? '',
      ),
    }));
  const done: MeasureWork = { ...NEW_WORK, state: 'done', test: 'passed' };
  return {
    day: '2026-11-30',
    library: shippedLibrary(),
    assessments: Array.from({ length: ASSESSMENTS }, (_, a) => ({
      ...{ id: a, cycleId: a % CYCLES, cycle: `cycle ${a % CYCLES}`, startedAt: '2026-01-01T00:00:00Z' },
      content: NEW_ASSESSMENT,
      framework: {
        ...{
          format: 'yare-framework-1',
          id: `x${a}`,
          version: '2026-01-01',
          name: `X${a}`,
          title: 'X',
          issuer: 'X',
        },
        ...{ regions: [], covers: 'All', whole: true, controls: controls(a) },
        families: Array.from({ length: 12 }, (_f, f) => ({ id: `f${f}`, name: `Family ${f}` })),
      },
    })),
    work: new Map(
      Array.from({ length: CYCLES }, (_, c) => [
        c,
        new Map(ids.map((id, i) => [id, i % 2 === 0 ? done : NEW_WORK] as const)),
      ]),
    ),
    ...{ evidence: new Map(), providers: new Map(), live: new Map(), weights: USUAL_WEIGHTS },
  };
}

const of = standing();
const timed = (work: () => unknown): number => {
  const times = Array.from({ length: TIMES }, () => {
    const begun = performance.now();
    work();
    return performance.now() - begun;
  });
  return median(times);
};

const assessed = assessAll(of);
const tally = together(assessed.map((a) => a.readiness.tally));
figure(
  'obligations',
  'controls',
  assessed.reduce((n, a) => n + a.readiness.controls.length, 0),
  'controls',
);
figure('obligations', 'readiness', readinessOf(tally) ?? 0, 'of 100');
figure('obligations', 'points', wholePoints(tally.applicable), 'points');
figure(
  'obligations',
  'all_numbers',
  timed(() => assessAll(of)),
  'ms',
);
figure(
  'obligations',
  'numbers_of_a_cycle',
  timed(() => assessAll(of, 0)),
  'ms',
);
figure(
  'obligations',
  'what_to_do_next',
  timed(() => nextIn(of, assessed)),
  'ms',
);
