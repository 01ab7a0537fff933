import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { PatternDetector } from '../detection/detector/detector.ts';
import { Engine } from '../detection/engine/engine.ts';
import { newDetector, type OwnDetector } from '../detection/detector/own-detector.ts';
import { onlyNarrows } from './narrowing.ts';

const pattern = (more: Record<string, unknown> = {}): PatternDetector =>
  PatternDetector.parse({
    kind: 'pattern',
    id: 'crew-number',
    name: 'Crew number',
    anchor: { by: 'pattern', pattern: '\\b\\d{4,6}\\b' },
    ...more,
  });
const none = (...values: string[]) => ({ check: 'is none of', values });

it.each<[string, OwnDetector, OwnDetector, boolean]>([
  ['another name', pattern(), pattern({ name: 'Number of crew' }), true],
  ['more confidence asked for', pattern({ keepFrom: 0.5 }), pattern({ keepFrom: 0.7 }), true],
  ['less confidence asked for', pattern({ keepFrom: 0.5 }), pattern({ keepFrom: 0.4 }), false],
  ['a check more', pattern(), pattern({ checks: [none('0000')] }), true],
  ['a check less', pattern({ checks: [none('0000')] }), pattern(), false],
  [
    'one more value that is none',
    pattern({ checks: [none('1')] }),
    pattern({ checks: [none('1', '2')] }),
    true,
  ],
  [
    'one value less that is none',
    pattern({ checks: [none('1', '2')] }),
    pattern({ checks: [none('1')] }),
    false,
  ],
  [
    'a shorter range',
    pattern({ checks: [{ check: 'range', from: 1, to: 900 }] }),
    pattern({ checks: [{ check: 'range', from: 10, to: 900 }] }),
    true,
  ],
  [
    'a check that adds',
    pattern(),
    pattern({ checks: [{ check: 'range', from: 1, to: 900, passes: 2, fails: 0 }] }),
    false,
  ],
  ['another pattern', pattern(), pattern({ anchor: { by: 'pattern', pattern: '\\d{4}' } }), false],
  ['a higher threshold', { ...learned(), threshold: 0.5 }, { ...learned(), threshold: 0.6 }, true],
  [
    'another training',
    { ...learned(), threshold: 0.5 },
    { ...learned(), threshold: 0.5, training: 4 },
    false,
  ],
  ['a threshold that follows the costs', learned(), { ...learned(), threshold: 0.9 }, false],
  ['a likeness that asks for more', likeness(0.3, 'a', 'b'), likeness(0.4, 'a'), true],
  ['a likeness with another document', likeness(0.3, 'a'), likeness(0.3, 'a', 'b'), false],
  ['another kind', pattern(), learned(), false],
])('%s', (_, before, after, narrows) => expect(onlyNarrows(before, after)).toBe(narrows));

function learned() {
  return { ...newDetector('learned', 'crew-paper', 'Crew paper'), training: 3 } as Extract<
    OwnDetector,
    { kind: 'learned' }
  >;
}
function likeness(from: number, ...digests: string[]): OwnDetector {
  return {
    ...(newDetector('likeness', 'form', 'Form') as Extract<OwnDetector, { kind: 'likeness' }>),
    from,
    templates: digests.map((d) => ({ name: d, digest: d.repeat(64) })),
  };
}

describe('what only narrows', () => {
  const anyCheck = fc.oneof(
    fc.record({
      check: fc.constant('is none of'),
      values: fc.subarray(['1234', '4321', '77777'], { minLength: 1 }),
      passes: fc.constantFrom(0, 1),
      fails: fc.constantFrom('drop', -2, 1),
    }),
    fc.record({
      check: fc.constant('range'),
      from: fc.constantFrom(0, 2000),
      to: fc.constantFrom(5000, 99_999),
      passes: fc.constantFrom(0, 1),
      fails: fc.constantFrom('drop', -2, 1),
    }),
    fc.record({
      check: fc.constant('length'),
      of: fc.constant('digits'),
      from: fc.constantFrom(4, 5),
      to: fc.constantFrom(5, 6),
      fails: fc.constantFrom('drop', -1),
    }),
  );
  const anyDetector = fc.record({
    keepFrom: fc.constantFrom(0.2, 0.5, 0.8),
    checks: fc.array(anyCheck, { maxLength: 3 }),
  });
  const TEXT = 'Crew 1234 and 4321, berth 77777, 2001 5001 98765 no 4000, 123456';
  const found = (d: PatternDetector) =>
    new Set(
      new Engine([{ ...d, version: 1 }]).detect({ text: TEXT, segments: [] }).findings.map((f) => f.start),
    );

  it('finds nothing that was not found before', () => {
    expect(found(pattern({ keepFrom: 0.2 })).size).toBeGreaterThan(3);
    fc.assert(
      fc.property(anyDetector, anyDetector, fc.nat(2), (a, b, extra) => {
        const before = pattern(a);
        // Half of the time a change of it, so that not all pairs are strangers.
        const after = pattern(
          extra === 0
            ? b
            : { ...a, keepFrom: b.keepFrom, checks: [...a.checks, ...b.checks.slice(0, extra - 1)] },
        );
        fc.pre(onlyNarrows(before, after));
        const [was, is] = [found(before), found(after)];
        for (const start of is) expect(was.has(start)).toBe(true);
      }),
      { numRuns: 300 },
    );
  });
});
