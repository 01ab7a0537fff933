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
  const whys = control.measures.map((id) => whyNothing(work.get(id) ?? NO_WORK, day));
  let n = 0;
  for (const why of whys) if (why !== 'not applicable') n++;
  if (n > MOST_MEASURES) throw new RangeError(`A control has ${MOST_MEASURES} measures at most.`);
  const share = n === 0 ? 0 : points * (PARTS / n);
  let [ours, oursGiven, theirs, theirsGiven] = [0, 0, 0, 0];
  const measures = whys.map((why, i): MeasureStanding => {
    const id = control.measures[i] as string;
    const counts = applies && why !== 'not applicable';
    const gives = counts && why === null;
    if (counts && whose.get(id) === 'provider') {
      theirs++;
      if (gives) theirsGiven++;
    } else if (counts) {
      ours++;
      if (gives) oursGiven++;
    }
    return { id, applies: counts, share: counts ? share : 0, gives, why };
  });
  const unanswered = n === 0 ? points * PARTS : 0;
  return {
    ...{ control, applies, points, measures },
    tally: {
      given: (oursGiven + theirsGiven) * share,
      applicable: (ours + theirs) * share + unanswered,
      ours: { given: oursGiven * share, applicable: ours * share },
      provider: { given: theirsGiven * share, applicable: theirs * share },
      unanswered,
    },
  };
}

/** Points of several added up. */
export function together(all: readonly Tally[]): Tally {
  const sum = new Sum();
  for (const t of all) sum.add(t);
  return sum.tally();
}

/** Adds points up, one control after the other. */
class Sum {
  readonly #of = { given: 0, applicable: 0, unanswered: 0 };
  readonly #ours = { given: 0, applicable: 0 };
  readonly #provider = { given: 0, applicable: 0 };

  add({ given, applicable, ours, provider, unanswered }: Tally): void {
    this.#of.given += given;
    this.#of.applicable += applicable;
    this.#of.unanswered += unanswered;
    this.#ours.given += ours.given;
    this.#ours.applicable += ours.applicable;
    this.#provider.given += provider.given;
    this.#provider.applicable += provider.applicable;
  }

  tally(): Tally {
    return { ...this.#of, ours: { ...this.#ours }, provider: { ...this.#provider } };
  }
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
  const [all, families] = [new Sum(), new Map<string, Sum>()];
  for (const { control, tally } of controls) {
    all.add(tally);
    let family = families.get(control.family);
    if (!family) families.set(control.family, (family = new Sum()));
    family.add(tally);
  }
  return {
    tally: all.tally(),
    families: new Map([...families].map(([id, sum]) => [id, sum.tally()])),
    controls,
  };
}
