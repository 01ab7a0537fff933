import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { control, measure } from '../framework/framework.fixture.ts';
import { CONTROL_KINDS, DUTIES, type Control, type Measure } from '../framework/framework.ts';
import { nextMeasures } from './next-measures.ts';
import {
  assess,
  MEASURE_STATES,
  PARTS,
  readinessOf,
  together,
  whyNothing,
  wholePoints,
  type Assessed,
  type Work,
} from './readiness.ts';
import { pointsOf, USUAL_WEIGHTS, type Weights } from './weights.ts';

const TODAY = '2026-11-30';
const PASSED: Work = { state: 'done', test: 'passed', evidenceUntil: null };
const assessed = (
  controls: readonly Control[],
  work: Record<string, Work> = {},
  out: readonly string[] = [],
): Assessed => ({
  controls,
  notApplicable: new Set(out),
  work: new Map(Object.entries(work)),
});
const ready = (of: Assessed, whose: Record<string, Measure['whose']> = {}) =>
  assess(of, new Map(Object.entries(whose)), USUAL_WEIGHTS, TODAY);

describe('what a control weighs', () => {
  it.each([
    ['required', 'prevents', 5, 45],
    ['required', 'detects', 2, 12],
    ['by choice', 'prevents', 4, 12],
    ['by choice', 'corrects', 1, 2],
  ] as const)('%s, %s, of risk %i: %i points', (duty, kind, risk, points) => {
    expect(pointsOf({ duty, kind, risk }, USUAL_WEIGHTS)).toBe(points);
  });
});

describe('a piece of work', () => {
  it.each<[Partial<Work>, ReturnType<typeof whyNothing>]>([
    [{}, null],
    [{ state: 'in work' }, null],
    [{ test: null }, 'not tested'],
    [{ test: 'failed' }, 'test failed'],
    [{ state: 'not applicable' }, 'not applicable'],
    [{ evidenceUntil: TODAY }, null],
    [{ evidenceUntil: '2026-11-29' }, 'evidence past its date'],
    [{ evidenceUntil: '2026-11-29', test: 'failed' }, 'test failed'],
  ])('%j gives nothing because: %s', (work, why) =>
    expect(whyNothing({ ...PASSED, ...work }, TODAY)).toBe(why),
  );
});

describe('readiness', () => {
  it('is the points given of those that apply, each shared evenly by what answers it', () => {
    const { tally } = ready(assessed([control('a', ['x', 'y', 'z']), control('b', ['x'])], { x: PASSED }));
    expect([wholePoints(tally.given), wholePoints(tally.applicable)]).toEqual([9 / 3 + 9, 18]);
    expect(readinessOf(tally)).toBeCloseTo(66.67, 2);
  });

  it('leaves out what does not apply: controls, and measures within one', () => {
    const controls = [control('a', ['x', 'y']), control('b', ['z'])];
    const none: Work = { ...PASSED, state: 'not applicable' };
    const { tally } = ready(assessed(controls, { x: PASSED, y: none }, ['b']));
    expect([wholePoints(tally.given), wholePoints(tally.applicable)]).toEqual([9, 9]);
  });

  it('is not made by saying of every measure that it does not apply', () => {
    const none: Work = { ...PASSED, state: 'not applicable' };
    const { tally } = ready(assessed([control('a', ['x', 'y'])], { x: none, y: none }));
    expect(tally).toMatchObject({ given: 0, applicable: 9 * PARTS, unanswered: 9 * PARTS });
    expect(readinessOf(tally)).toBe(0);
  });

  it('is nothing where nothing applies', () => {
    expect(readinessOf(ready(assessed([control('a', ['x'])], {}, ['a'])).tally)).toBeNull();
  });

  it('tells ours and the provider’s apart', () => {
    const { tally } = ready(assessed([control('a', ['x', 'y'])], { y: PASSED }, []), { y: 'provider' });
    expect(
      [tally.ours, tally.provider].map((p) => [wholePoints(p.given), wholePoints(p.applicable)]),
    ).toEqual([
      [0, 4.5],
      [4.5, 4.5],
    ]);
  });
});

/** Fractions, as one learns them at school. */
class Fraction {
  constructor(
    readonly over: bigint,
    readonly under: bigint,
  ) {}
  add(o: Fraction): Fraction {
    return new Fraction(this.over * o.under + o.over * this.under, this.under * o.under);
  }
  /** Whether it is so many parts of a point. */
  is(parts: number): boolean {
    return this.over * BigInt(PARTS) === BigInt(parts) * this.under;
  }
}
const ZERO = new Fraction(0n, 1n);

/** The same, slowly: every control and measure looked at by itself. */
function slowly({ controls, notApplicable, work }: Assessed, weights: Weights, family?: string) {
  let [given, applicable] = [ZERO, ZERO];
  for (const c of controls) {
    if (notApplicable.has(c.id) || (family !== undefined && c.family !== family)) continue;
    const points = BigInt(weights.duty[c.duty] * weights.kind[c.kind] * c.risk);
    applicable = applicable.add(new Fraction(points, 1n));
    const counting = c.measures.filter((m) => work.get(m)?.state !== 'not applicable');
    for (const m of counting) {
      const w = work.get(m);
      const counts = w?.test === 'passed' && !(w.evidenceUntil !== null && w.evidenceUntil < TODAY);
      if (counts) given = given.add(new Fraction(points, BigInt(counting.length)));
    }
  }
  return { given, applicable };
}

const IDS = Array.from({ length: 24 }, (_, i) => `m${i}`);
const arbitraryWork: fc.Arbitrary<Work> = fc.record({
  state: fc.constantFrom(...MEASURE_STATES),
  test: fc.constantFrom('passed' as const, 'failed' as const, null),
  evidenceUntil: fc.constantFrom(null, '2026-11-29', TODAY, '2027-06-01'),
});
const arbitraryAssessed = fc
  .record({
    controls: fc.array(
      fc.record({
        duty: fc.constantFrom(...DUTIES),
        kind: fc.constantFrom(...CONTROL_KINDS),
        risk: fc.integer({ min: 1, max: 5 }),
        family: fc.constantFrom('f', 'g', 'h'),
        measures: fc.uniqueArray(fc.constantFrom(...IDS), { minLength: 1, maxLength: 20 }),
      }),
      { maxLength: 20 },
    ),
    out: fc.uniqueArray(fc.integer({ min: 0, max: 19 }), { maxLength: 6 }),
    work: fc.dictionary(fc.constantFrom(...IDS), arbitraryWork),
  })
  .map(({ controls, out, work }) =>
    assessed(
      controls.map((c, i) => control(`c${i}`, c.measures, c)),
      work,
      out.map((i) => `c${i}`),
    ),
  );
const arbitraryWeights: fc.Arbitrary<Weights> = fc.record({
  duty: fc.record({ required: fc.nat(10), 'by choice': fc.nat(10) }),
  kind: fc.record({ prevents: fc.nat(10), detects: fc.nat(10), corrects: fc.nat(10) }),
});

describe('any assessment', () => {
  it('is as ready as a slow reading in fractions says, in all and by family', () => {
    fc.assert(
      fc.property(arbitraryAssessed, arbitraryWeights, (of, weights) => {
        const { tally, families } = assess(of, new Map(), weights, TODAY);
        const slow = slowly(of, weights);
        expect([slow.given.is(tally.given), slow.applicable.is(tally.applicable)]).toEqual([true, true]);
        for (const [family, t] of families) {
          const s = slowly(of, weights, family);
          expect([family, s.given.is(t.given), s.applicable.is(t.applicable)]).toEqual([family, true, true]);
        }
      }),
    );
  });

  it('comes to the same number in whatever order, and by parts', () => {
    fc.assert(
      fc.property(arbitraryAssessed, fc.nat(20), (of, at) => {
        const whole = ready(of).tally;
        expect(ready({ ...of, controls: of.controls.toReversed() }).tally).toEqual(whole);
        const parts = [of.controls.slice(0, at), of.controls.slice(at)].map(
          (c) => ready({ ...of, controls: c }).tally,
        );
        expect(together(parts)).toEqual(whole);
      }),
    );
  });

  it('adds a control and takes it out again, and is as it was', () => {
    fc.assert(
      fc.property(arbitraryAssessed, (of) => {
        const more = { ...of, controls: [...of.controls, control('new', ['m1', 'm2'])] };
        const back = { ...more, controls: more.controls.filter((c) => c.id !== 'new') };
        expect(ready(back)).toEqual(ready(of));
      }),
    );
  });

  it('never loses by work that passes, and gains just what was told', () => {
    const measures = new Map(IDS.map((id, i) => [id, measure(id, { hours: 1 + (i % 5) })]));
    fc.assert(
      fc.property(arbitraryAssessed, (of) => {
        const before = ready(of);
        const next = nextMeasures([before], measures);
        const rates = next.map((n) => n.gain / n.measure.hours);
        expect(rates).toEqual(rates.toSorted((a, b) => b - a));
        for (const { measure: m, gain } of next.slice(0, 3)) {
          const after = ready({ ...of, work: new Map(of.work).set(m.id, PASSED) });
          expect(after.tally.given - before.tally.given).toBe(gain);
          expect(after.tally.applicable).toBe(before.tally.applicable);
        }
        // Once all of it is done, all that somebody can give is given.
        const all = new Map(of.work);
        for (const n of next) all.set(n.measure.id, PASSED);
        const { tally } = ready({ ...of, work: all });
        expect(tally.given).toBe(tally.applicable - tally.unanswered);
      }),
    );
  });
});

describe('what to do next', () => {
  it('counts a measure once with what it brings everywhere, by the points for an hour', () => {
    const [gdpr, iso] = [
      ready(assessed([control('a', ['x', 'y'])], {})),
      ready(assessed([control('b', ['x']), control('c', ['z'], { risk: 2 })], {})),
    ];
    const measures = new Map(
      [measure('x', { hours: 16 }), measure('y', { hours: 2 }), measure('z', { hours: 40 })].map((m) => [
        m.id,
        m,
      ]),
    );
    expect(
      nextMeasures([gdpr, iso], measures).map((n) => [n.measure.id, wholePoints(n.gain), n.serves]),
    ).toEqual([
      ['y', 4.5, [{ assessment: 0, control: 'a' }]],
      [
        'x',
        13.5,
        [
          { assessment: 0, control: 'a' },
          { assessment: 1, control: 'b' },
        ],
      ],
      ['z', 18, [{ assessment: 1, control: 'c' }]],
    ]);
  });
});
