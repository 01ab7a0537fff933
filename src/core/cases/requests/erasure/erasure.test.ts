import fc from 'fast-check';
import { expect, it, test } from 'vitest';
import { fateOf, type HeldOfPerson, type Keeper } from './erasure.ts';

const HOLD: Keeper = { is: 'hold', name: 'Collision at berth 4', matter: 'case 26-114' };
const law = (until: string | null, name = 'Bookkeeping Act'): Keeper => ({
  is: 'law',
  name,
  article: '§ 12',
  until,
});
const held = (more: Partial<HeldOfPerson> = {}): HeldOfPerson => ({
  keepers: [],
  alone: true,
  can: { remove: true, replace: true },
  exception: '',
  ...more,
});

test.each<[Partial<HeldOfPerson>, object]>([
  [{}, { is: 'removed' }],
  [{ alone: false }, { is: 'taken out' }],
  [{ alone: false, can: { remove: true, replace: false } }, { is: 'by hand' }],
  [{ can: { remove: false, replace: true } }, { is: 'by hand' }],
  [
    { keepers: [HOLD, law('2030-12-31')] },
    { is: 'kept', article: 'Art. 17(3)(e)', why: 'Collision at berth 4 (case 26-114)' },
  ],
  [
    { keepers: [law('2030-12-31')] },
    { is: 'kept', article: 'Art. 17(3)(b)', why: 'Bookkeeping Act, § 12, until 31 Dec 2030' },
  ],
  [{ keepers: [law('2030-12-31'), law(null, 'Archives Act')] }, { is: 'kept', why: 'Archives Act, § 12' }],
  [{ exception: 'a claim of ours' }, { is: 'kept', article: 'Art. 17(3)', why: 'a claim of ours' }],
])('%j', (more, fate) => expect(fateOf(held(more))).toMatchObject(fate));

it('never deletes what anything keeps', () => {
  const keeper = fc.constantFrom<Keeper>(HOLD, law('2030-01-01'), law(null));
  const one = fc.record({
    ...{
      keepers: fc.array(keeper, { maxLength: 3 }),
      alone: fc.boolean(),
      exception: fc.constantFrom('', 'a claim'),
    },
    can: fc.record({ remove: fc.boolean(), replace: fc.boolean() }),
  });
  fc.assert(
    fc.property(one, (h) => {
      const { is } = fateOf(h);
      expect(is === 'kept').toBe(h.keepers.length > 0 || h.exception !== '');
      if (is === 'removed') expect(h.alone && h.can.remove).toBe(true);
      if (is === 'taken out') expect(!h.alone && h.can.replace).toBe(true);
    }),
  );
});
