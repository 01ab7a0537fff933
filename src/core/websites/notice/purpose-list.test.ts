import { expect, it, test } from 'vitest';
import { FIRST_PURPOSES } from './purpose.ts';
import { isUsed, newCode, PurposeList, renameWords, type PurposeUse } from './purpose-list.ts';

const UNUSED: PurposeUse = { trackers: 0, known: 0, notices: [], records: 0, tags: 0, versions: 0 };

test.each([
  ['Product research', 'product-research'],
  ['Målinger & co.', 'malinger-co'],
  ['3D maps', 'd-maps'],
  ['測定', 'purpose'],
  ['Measurement', 'measurement-2'],
  ['A very long name of a purpose indeed', 'a-very-long-name-of-a-pu'],
])('%s becomes %s', (name, code) => {
  expect(newCode(name, FIRST_PURPOSES)).toBe(code);
});

test.each([
  [(l: typeof FIRST_PURPOSES) => l, ''],
  [(l: typeof FIRST_PURPOSES) => l.toReversed(), ''],
  [(l: typeof FIRST_PURPOSES) => [...l, { ...l[1]!, code: 'other' }], 'already'],
  [(l: typeof FIRST_PURPOSES) => [...l, { ...l[1]!, name: 'Other' }], 'already'],
  [(l: typeof FIRST_PURPOSES) => l.slice(1), 'essential'],
  [(l: typeof FIRST_PURPOSES) => l.map((p) => ({ ...p, essential: true })), 'essential'],
  [(l: typeof FIRST_PURPOSES) => [{ ...l[0]!, name: ' ' }], 'a name'],
])('%s', (made, says) => {
  const result = PurposeList.safeParse(made(FIRST_PURPOSES));
  expect(result.success).toBe(says === '');
  expect(JSON.stringify(result.error?.issues ?? '')).toContain(says);
});

it('tells before what a new name touches', () => {
  expect(isUsed(UNUSED)).toBe(false);
  expect(isUsed({ ...UNUSED, versions: 1 })).toBe(true);
  const use = { ...UNUSED, trackers: 1, tags: 2, records: 40, notices: ['a.example'] };
  expect(isUsed(use)).toBe(true);
  expect(renameWords(use)).toBe(
    '1 tracker and 2 tags keep it under the new name. 40 records keep what was shown when it was made. Visitors of a.example read its own text there, which stays as it is until it is edited.',
  );
});
