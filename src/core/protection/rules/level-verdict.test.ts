import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Bitmap } from '../../lens/bitmap.ts';
import { changedBy, levelPlan } from './level-plan.ts';
import { levelVerdict, type PresentLevel, type WeighedRule } from './level-verdict.ts';

const RANKS = new Map([
  ['open', 0],
  ['internal', 1],
  ['confidential', 2],
  ['strict', 3],
]);
const rule = (id: string, level: string, keep = false): WeighedRule => ({ id, level, keep });
const shares = rule('1', 'internal');
const cards = rule('2', 'strict');
const health = rule('3', 'confidential');
const notes = rule('4', 'confidential', true);
const hand = (level: string): PresentLevel => ({ level, by: { is: 'hand' } });
const brought = (level: string): PresentLevel => ({ level, by: { is: 'document' } });
const byRule = (level: string, of: WeighedRule): PresentLevel => ({ level, by: { is: 'rule', rule: of.id } });

describe('the level of an item', () => {
  it.each<
    [
      string,
      readonly WeighedRule[],
      PresentLevel | undefined,
      { level: string | undefined; change: string; lost?: readonly string[] },
    ]
  >([
    ['no rule holds, and it has none', [], undefined, { level: undefined, change: 'none' }],
    ['one rule holds', [shares], undefined, { level: 'internal', change: 'set' }],
    [
      'the strongest of three',
      [shares, cards, health],
      undefined,
      { level: 'strict', change: 'set', lost: ['3', '1'] },
    ],
    ['two say the same', [notes, health], undefined, { level: 'confidential', change: 'set', lost: ['4'] }],
    [
      'by hand, and a rule is weaker',
      [shares],
      hand('confidential'),
      { level: 'confidential', change: 'none', lost: ['1'] },
    ],
    [
      'by hand, and a rule is as strong',
      [health],
      hand('confidential'),
      { level: 'confidential', change: 'none', lost: ['3'] },
    ],
    ['by hand, and a rule is stronger', [cards], hand('internal'), { level: 'strict', change: 'raised' }],
    [
      'it came with the document',
      [shares],
      brought('confidential'),
      { level: 'confidential', change: 'none', lost: ['1'] },
    ],
    ['by hand, of a level that is gone', [shares], hand('secret'), { level: 'internal', change: 'raised' }],
    [
      'a rule set it that does not follow',
      [shares],
      byRule('strict', cards),
      { level: 'strict', change: 'none', lost: ['1'] },
    ],
    [
      'a rule set it that follows, and a weaker one holds',
      [shares],
      byRule('confidential', notes),
      { level: 'internal', change: 'lowered' },
    ],
    [
      'a rule set it that follows, and none holds',
      [],
      byRule('confidential', notes),
      { level: undefined, change: 'taken off' },
    ],
    [
      'a rule set it that follows, and holds',
      [notes, shares],
      byRule('confidential', notes),
      { level: 'confidential', change: 'none', lost: ['1'] },
    ],
    [
      'a rule of a level that is gone',
      [rule('9', 'secret')],
      undefined,
      { level: undefined, change: 'none' },
    ],
  ])('%s', (_, held, present, { level, change, lost = [] }) => {
    const all = [shares, cards, health, notes, ...held.filter((r) => r.id === '9')];
    const verdict = levelVerdict(all, (r) => held.includes(r), present, RANKS);
    expect(verdict).toMatchObject({ level, change });
    expect(verdict.lost.map((l) => l.rule.id)).toEqual(lost);
  });

  it('names why each rule lost', () => {
    const verdict = levelVerdict([cards, health, notes, shares], () => true, hand('strict'), RANKS);
    expect(verdict.by).toEqual({ is: 'kept' });
    expect(verdict.lost.map((l) => [l.rule.id, l.because])).toEqual([
      ['2', 'the level it has is as strong or stronger'],
      ['3', 'a stronger level won'],
      ['4', 'a stronger level won'],
      ['1', 'a stronger level won'],
    ]);
  });
});

const levels = fc.constantFrom('open', 'internal', 'confidential', 'strict', 'gone');
const rules = fc.uniqueArray(
  fc.record({ id: fc.constantFrom(...'abcdefg'), level: levels, keep: fc.boolean() }),
  {
    selector: (r) => r.id,
    maxLength: 6,
  },
);
const present: fc.Arbitrary<PresentLevel | undefined> = fc.option(
  fc.record({
    level: levels,
    by: fc.oneof(
      fc.record({ is: fc.constantFrom('hand' as const, 'document' as const) }),
      fc.record({ is: fc.constant('rule' as const), rule: fc.constantFrom(...'abcdefgh') }),
    ),
  }),
  { nil: undefined },
);

/** By trying every level an item could have, and asking who could object. */
function slow(
  all: readonly WeighedRule[],
  held: ReadonlySet<string>,
  has: PresentLevel | undefined,
): string | undefined {
  const rank = (l: string | undefined) => (l === undefined ? -2 : (RANKS.get(l) ?? -1));
  const asked = all.filter((r) => held.has(r.id) && RANKS.has(r.level)).map((r) => r.level);
  const setter =
    has?.by.is === 'rule' ? all.find((r) => r.id === (has.by as { rule: string }).rule) : undefined;
  const stands = has && !setter?.keep ? [has.level] : [];
  let best: string | undefined;
  for (const level of [...stands, ...asked]) if (rank(level) > rank(best)) best = level;
  return best;
}

describe('the level of many items', () => {
  it('is that of each alone, as a slow look at it has it, and the plan says the same winner', () => {
    const items = fc.array(fc.tuple(present, fc.array(fc.constantFrom(...'abcdefg'))), {
      minLength: 1,
      maxLength: 12,
    });
    fc.assert(
      fc.property(rules, items, (all, estate) => {
        const sets = all.map((r) => ({
          rule: r,
          items: Bitmap.of(estate.flatMap(([, held], i) => (held.includes(r.id) ? [i] : []))),
        }));
        const presents = estate.flatMap(([has], i) => (has ? [{ present: has, items: Bitmap.of([i]) }] : []));
        const plan = levelPlan(sets, presents, RANKS);
        estate.forEach(([has, held], i) => {
          const verdict = levelVerdict(all, (r) => held.includes(r.id), has, RANKS);
          expect(verdict.level).toBe(slow(all, new Set(held), has));
          expect(changedBy(plan).has(i)).toBe(verdict.change !== 'none');
          expect(plan.takenOff.has(i)).toBe(verdict.change === 'taken off');
          for (const o of plan.rules) {
            const decided = verdict.by.is === 'rule' && verdict.by.rule.id === o.rule.id;
            for (const how of ['set', 'raised', 'lowered'] as const)
              expect(o[how].has(i)).toBe(decided && verdict.change === how);
            expect(o.stands.has(i)).toBe(
              verdict.by.is === 'kept' &&
                verdict.lost[0]?.rule.id === o.rule.id &&
                verdict.lost[0].because === 'the level it has is as strong or stronger',
            );
            expect(o.beaten.has(i)).toBe(
              verdict.lost.some(
                (l) => l.rule.id === o.rule.id && l.because !== 'the level it has is as strong or stronger',
              ),
            );
          }
        });
      }),
    );
  });
});
