import type { SweepReport } from '../../src/core/websites/sweeps/sweep-report.ts';
import { trackerKey } from '../../src/core/websites/trackers/tracker.ts';
import type { Visitor } from '../../src/core/websites/trackers/visitor.ts';
import { isBeside, POST_TRUTH, type Truth } from './truth.ts';

export interface Score {
  /** Trackers that are there, and how many of them a sweep told. */
  readonly there: number;
  readonly found: number;
  readonly missed: readonly string[];
  /** Told, and not there. */
  readonly invented: readonly string[];
  /** Found ones that were told for just the visitors who meet them. */
  readonly statesRight: number;
  readonly statesWrong: readonly string[];
  readonly purposesRight: number;
  readonly purposesWrong: readonly string[];
  /** Of the cells tracker × visitor that leak: told as a leak, certain or presumed; and told so rightly. */
  readonly leakCells: number;
  readonly recall: number;
  readonly precision: number;
  readonly leaksWrong: readonly string[];
}

/** Holds a report of the Strait Post against what was built. */
export function scorePost(report: SweepReport): Score {
  const told = new Map(report.trackers.map((t) => [trackerKey(t), t]));
  const truth = new Map(POST_TRUTH.map((t) => [trackerKey(t), t]));
  const name = (t: { kind: string; name: string; host: string }) => `${t.kind} ${t.name} of ${t.host}`;
  const found = POST_TRUTH.flatMap((t) => {
    const tracker = told.get(trackerKey(t));
    return tracker ? [{ truth: t, tracker }] : [];
  });
  const asked = report.visitors.map((v) => v.visitor);
  const statesWrong = found.filter(
    ({ truth: t, tracker }) =>
      t.states.filter((v) => asked.includes(v)).join() !==
      asked.filter((v) => tracker.states.includes(v)).join(),
  );
  const purposesWrong = found.filter(({ truth: t, tracker }) => tracker.purpose !== t.purpose);
  const cells = POST_TRUTH.flatMap((t) =>
    t.states.filter((v) => asked.includes(v) && leaksFor(t, v)).map((v) => `${name(t)}: ${v}`),
  );
  const called = report.trackers
    .filter((t) => truth.has(trackerKey(t)))
    .flatMap((t) => [...t.leaks, ...t.presumed].map((v) => `${name(t)}: ${v}`));
  const right = called.filter((c) => cells.includes(c));
  return {
    there: POST_TRUTH.length,
    found: found.length,
    missed: POST_TRUTH.filter((t) => !told.has(trackerKey(t))).map(name),
    invented: report.trackers.filter((t) => !truth.has(trackerKey(t)) && !isBeside(t)).map(name),
    statesRight: found.length - statesWrong.length,
    statesWrong: statesWrong.map(({ tracker }) => `${name(tracker)}: ${tracker.states.join(', ')}`),
    purposesRight: found.length - purposesWrong.length,
    purposesWrong: purposesWrong.map(({ tracker }) => `${name(tracker)}: ${tracker.purpose ?? 'unsorted'}`),
    leakCells: cells.length,
    recall: right.length / Math.max(1, cells.length),
    precision: right.length / Math.max(1, called.length),
    leaksWrong: [
      ...cells.filter((c) => !called.includes(c)).map((c) => `not told: ${c}`),
      ...called.filter((c) => !cells.includes(c)).map((c) => `wrongly told: ${c}`),
    ],
  };
}

/** Where the law asks first: all but the essential, but for those who allowed it. */
function leaksFor({ purpose }: Truth, visitor: Visitor): boolean {
  if (purpose === 'essential' || visitor === 'accepted') return false;
  return visitor !== 'chosen' || purpose !== 'measurement';
}
