import type { ServerArea } from '../area.ts';
import type { PlainKind } from '../rules/plain-object.ts';
import { ASSESSMENT } from './assessments/assessment-object.ts';
import { OBLIGATIONS_FIGURES } from './figures.ts';
import { takeDueVersions } from './assessments/take-version.ts';
import { findObligations } from './find-obligations.ts';
import { READINESS_WEIGHTS } from './readiness-weights.ts';
import { MEASURE_WORK } from './work/measure-work-object.ts';
import { runTests, tellDueMeasures } from './work/run-tests.ts';

export const OBLIGATIONS: ServerArea = {
  area: 'obligations',
  objects: [
    { kind: ASSESSMENT as PlainKind<unknown>, see: 'obligations.read', edit: 'obligations.edit' },
    { kind: READINESS_WEIGHTS as PlainKind<unknown>, see: 'obligations.read', edit: 'obligations.edit' },
    { kind: MEASURE_WORK as PlainKind<unknown>, see: 'obligations.read', edit: 'obligations.work' },
  ],
  upkeep: [
    { name: 'tests that read the program', everyMs: 30_000, work: runTests },
    { name: 'versions of frameworks whose day has come', everyMs: 300_000, work: takeDueVersions },
    { name: 'measures that are due', everyMs: 60_000, work: tellDueMeasures },
  ],
  figures: OBLIGATIONS_FIGURES,
  checking: [
    {
      ...{ see: 'obligations.read', one: 'test of measures', many: 'tests of measures' },
      sql: 'SELECT COUNT(IF(at > ?, 1, NULL)) AS n, MAX(at) AS at FROM measure_test',
    },
  ],
  finders: [{ action: 'obligations.read', find: findObligations }],
};
