import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { Bitmap } from '../../lens/bitmap.ts';
import { levelPlan } from './level-plan.ts';
import { levelProposal, levelProposals } from './level-proposal.ts';
import type { PresentLevel, WeighedRule } from './level-verdict.ts';

const RANKS = new Map([
  ['open', 1],
  ['internal', 2],
  ['confidential', 3],
  ['strict', 4],
]);
const sets = (id: string, level: string): WeighedRule => ({ id, level, keep: true });
const asks = (id: string, level: string): WeighedRule => ({ ...sets(id, level), proposes: true });
const NO = new Set<string>();
const byHand = (level: string): PresentLevel => ({ level, by: { is: 'hand' } });

describe('What is proposed for an item', () => {
  it.each([
    ['nothing where no rule proposes', [sets('1', 'strict')], undefined, NO, undefined],
    ['a level where it has none', [asks('1', 'internal')], undefined, NO, ['1', undefined]],
    [
      'over what another rule sets',
      [sets('1', 'internal'), asks('2', 'strict')],
      undefined,
      NO,
      ['2', 'internal'],
    ],
    ['not what another sets already', [sets('1', 'strict'), asks('2', 'strict')], undefined, NO, undefined],
    ['not a weaker one than it has', [asks('1', 'internal')], byHand('confidential'), NO, undefined],
    ['a stronger one than somebody chose', [asks('1', 'strict')], byHand('open'), NO, ['1', 'open']],
    [
      'the strongest of several',
      [asks('1', 'internal'), asks('2', 'strict')],
      undefined,
      NO,
      ['2', undefined],
    ],
    [
      'the next where its owner said no',
      [asks('1', 'internal'), asks('2', 'strict')],
      undefined,
      new Set(['2']),
      ['1', undefined],
    ],
    ['no level that is gone', [asks('1', 'gone')], undefined, NO, undefined],
  ] as const)('%s', (_, rules, present, declined, wanted) => {
    const found = levelProposal(rules, () => true, present, RANKS, declined);
    expect(found && [found.rule.id, found.over]).toEqual(wanted);
  });

  it('is the same for all items at once', () => {
    const level = fc.constantFrom(...RANKS.keys(), 'gone');
    const arbitraryRule = fc.record({
      level,
      keep: fc.boolean(),
      proposes: fc.boolean(),
      on: fc.uint8Array({ maxLength: 12 }),
      no: fc.uint8Array({ maxLength: 4 }),
    });
    fc.assert(
      fc.property(
        fc.array(arbitraryRule, { maxLength: 6 }),
        fc.array(
          fc.record({
            item: fc.integer({ min: 0, max: 255 }),
            level,
            by: fc.constantFrom('hand', 'document', '0', '1'),
          }),
          { maxLength: 12 },
        ),
        (rules, has) => {
          const weighed = rules.map(({ level: l, keep, proposes }, i) => ({
            id: `${i}`,
            level: l,
            keep,
            proposes,
          }));
          const presentOf = new Map(
            has.map((h): [number, PresentLevel] => [
              h.item,
              {
                level: h.level,
                by: h.by === 'hand' || h.by === 'document' ? { is: h.by } : { is: 'rule', rule: h.by },
              },
            ]),
          );
          const ruleSets = weighed.map((rule, i) => ({ rule, items: Bitmap.of(rules[i]?.on ?? []) }));
          const presents = [...presentOf].map(([item, present]) => ({ present, items: Bitmap.of([item]) }));
          const declined = new Map(weighed.map((r, i) => [r.id, Bitmap.of(rules[i]?.no ?? [])]));
          const all = levelProposals(
            ruleSets,
            levelPlan(ruleSets, presents, RANKS),
            presents,
            RANKS,
            declined,
          );
          for (let item = 0; item < 256; item++) {
            const one = levelProposal(
              weighed,
              (r) => ruleSets.find((s) => s.rule === r)?.items.has(item) ?? false,
              presentOf.get(item),
              RANKS,
              new Set(weighed.filter((r) => declined.get(r.id)?.has(item)).map((r) => r.id)),
            );
            expect(all.find((s) => s.items.has(item))?.rule.id).toBe(one?.rule.id);
          }
        },
      ),
      { numRuns: 150 },
    );
  });
});
