import { MOST_MEASURES, type Control, type Measure } from '../framework/framework.ts';
import { pointsOf, type Weights } from './weights.ts';

export const MEASURE_STATES = ['planned', 'in work', 'done', 'not applicable'] as const;
export type MeasureState = (typeof MEASURE_STATES)[number];

/** Where one piece of work stands. Days as `YYYY-MM-DD`. */
export interface Work {
  readonly state: MeasureState;
  /** What its last test said; null where nobody tested it. */
  readonly test: 'passed' | 'failed' | null;
  /** The last day on which its evidence counts; null where it has no end. */
  readonly evidenceUntil: string | null;
}

export const NO_WORK: Work = { state: 'planned', test: null, evidenceUntil: null };

/** What an assessment asks of some controls. */
export interface Assessed {
  readonly controls: readonly Control[];
  /** Ids of controls that do not apply. */
  readonly notApplicable: ReadonlySet<string>;
  /** By the id of the measure; one that is not in it is planned. */
  readonly work: ReadonlyMap<string, Work>;
}

/**
 * Points are counted in parts of one, so that shares of up to 20 measures are whole numbers and sums come out the same in
 * whatever order they are made: this many parts are a point, the least number that all from 1 to 20 divide.
 */
export const PARTS = 232_792_560;

/** Points in parts. */
export interface Points {
  readonly given: number;
  readonly applicable: number;
}

export interface Tally extends Points {
  /** Of the measures that the organisation does itself. */
  readonly ours: Points;
  readonly provider: Points;
  /** Of controls that apply, and have no measure that does. */
  readonly unanswered: number;
}

/** How one control stands. */
export interface ControlStanding {
  readonly control: Control;
  readonly applies: boolean;
  /** Points, whole; 0 where it does not apply. */
  readonly points: number;
  readonly tally: Tally;
  readonly measures: readonly MeasureStanding[];
}

export interface MeasureStanding {
  readonly id: string;
  readonly applies: boolean;
  /** Of the control’s points, in parts. */
  readonly share: number;
  readonly gives: boolean;
  /** Why it gives nothing. */
  readonly why: 'not applicable' | 'not tested' | 'test failed' | 'evidence past its date' | null;
}

const NOTHING: Points = { given: 0, applicable: 0 };
export const NO_TALLY: Tally = { ...NOTHING, ours: NOTHING, provider: NOTHING, unanswered: 0 };

/** Whether a piece of work gives its share on a day, and why it does not. */
export function whyNothing({ state, test, evidenceUntil }: Work, day: string): MeasureStanding['why'] {
  if (state === 'not applicable') return 'not applicable';
  if (test === null) return 'not tested';
  if (test === 'failed') return 'test failed';
  return evidenceUntil !== null && evidenceUntil < day ? 'evidence past its date' : null;
}

/**
 * How a control stands on a day. Its points are shared evenly by its measures that apply; one gives its share where its test
 * passed and its evidence counts. A control that applies and has no measure that does keeps its points, and nobody gives
 * them: saying of every measure that it does not apply makes nothing ready.
 */
export function controlStanding(
  control: Control,
  { notApplicable, work }: Pick<Assessed, 'notApplicable' | 'work'>,
  whose: ReadonlyMap<string, Measure['whose']>,
  weights: Weights,
  day: string,
): ControlStanding {
  const applies = !notApplicable.has(control.id);
  const points = applies ? pointsOf(control, weights) : 0;
  const whys = control.measures.map((id) => [id, whyNothing(work.get(id) ?? NO_WORK, day)] as const);
  const n = whys.filter(([, why]) => why !== 'not applicable').length;
  if (n > MOST_MEASURES) throw new RangeError(`A control has ${MOST_MEASURES} measures at most.`);
  const share = n === 0 ? 0 : points * (PARTS / n);
  const measures = whys.map(([id, why]): MeasureStanding => {
    const counts = applies && why !== 'not applicable';
    return { id, applies: counts, share: counts ? share : 0, gives: counts && why === null, why };
  });
  const of = (owner: Measure['whose']): Points => {
    const theirs = measures.filter((m) => m.applies && (whose.get(m.id) ?? 'ours') === owner);
    return { given: theirs.filter((m) => m.gives).length * share, applicable: theirs.length * share };
  };
  const [ours, provider] = [of('ours'), of('provider')];
  const unanswered = n === 0 ? points * PARTS : 0;
  return {
    ...{ control, applies, points, measures },
    tally: {
      given: ours.given + provider.given,
      applicable: ours.applicable + provider.applicable + unanswered,
      ...{ ours, provider, unanswered },
    },
  };
}

/** Points of several added up. */
export function together(all: readonly Tally[]): Tally {
  const add = (a: Points, b: Points): Points => ({
    given: a.given + b.given,
    applicable: a.applicable + b.applicable,
  });
  return all.reduce(
    (sum, t) => ({
      ...add(sum, t),
      ours: add(sum.ours, t.ours),
      provider: add(sum.provider, t.provider),
      unanswered: sum.unanswered + t.unanswered,
    }),
    NO_TALLY,
  );
}

/** From 0 to 100; null where nothing applies. */
export function readinessOf({ given, applicable }: Points): number | null {
  return applicable === 0 ? null : (100 * given) / applicable;
}

/** In points, for people. */
export function wholePoints(parts: number): number {
  return parts / PARTS;
}

export interface Readiness {
  readonly tally: Tally;
  /** By the id of the family, in the order of the controls. */
  readonly families: ReadonlyMap<string, Tally>;
  readonly controls: readonly ControlStanding[];
}

/** How far an assessment is on a day. */
export function assess(
  assessed: Assessed,
  whose: ReadonlyMap<string, Measure['whose']>,
  weights: Weights,
  day: string,
): Readiness {
  const controls = assessed.controls.map((c) => controlStanding(c, assessed, whose, weights, day));
  const families = new Map<string, Tally>();
  for (const { control, tally } of controls)
    families.set(control.family, together([families.get(control.family) ?? NO_TALLY, tally]));
  return { tally: together(controls.map((c) => c.tally)), families, controls };
}
