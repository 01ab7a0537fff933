import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fit } from '../../desk/find-rank.ts';
import { EVERYTHING } from '../../lens/lens.ts';
import { findItems } from './find-items.ts';
import { BlockIndex, BLOCK_ITEMS, buildBlock, select, type IndexedItem } from './item-index.ts';

const item = (id: number, name: string, place = 'Personnel', source = '1'): IndexedItem => ({
  ...{ id, name, place, source, owner: '', format: 'pdf', size: 1, created: null, changed: null, people: 0 },
  ...{ state: 'read', document: null, level: undefined, findings: [], hashes: new Uint8Array() },
});
function selection(items: readonly IndexedItem[], sources?: readonly string[]) {
  const blocks = [...new Set(items.map((i) => Math.floor(i.id / BLOCK_ITEMS)))].map(
    (n) => new BlockIndex(n, buildBlock(items.filter((i) => Math.floor(i.id / BLOCK_ITEMS) === n))),
  );
  return select(blocks, EVERYTHING, '2026-12-02', sources);
}

const words = fc.constantFrom(
  'pay',
  'port',
  'roll',
  'Payroll',
  'ÉTÉ',
  'ete',
  'Ærø',
  'contract',
  '2019',
  'c',
  '%',
  '.*',
  'İ',
);
const names = fc
  .array(words, { minLength: 1, maxLength: 4 })
  .chain((w) => fc.constantFrom(' ', '-', '_', '').map((s) => w.join(s)));

describe('items by words of their names and places', () => {
  it('are those that one finds by looking at each, in that order', () => {
    fc.assert(
      fc.property(
        fc.array(fc.tuple(names, names, fc.boolean()), { minLength: 1, maxLength: 40 }),
        fc.array(words, { minLength: 1, maxLength: 3 }),
        fc.integer({ min: 1, max: 6 }),
        (all, typed, most) => {
          const items = all.map(([name, place, far], i) => item(i + (far ? BLOCK_ITEMS : 1), name, place));
          items.sort((a, b) => a.id - b.id);
          const text = typed.join(' ');
          const slow = items
            .flatMap((i) => {
              // What is beside the name: the place, below its source.
              const how = fit(text, { kind: '', words: i.name, detail: `Port share ${i.place}` });
              return how === undefined ? [] : [{ id: i.id, fit: how }];
            })
            .sort((a, b) => b.fit - a.fit || b.id - a.id);
          expect(findItems(selection(items), text, most, { 1: 'Port share' })).toEqual(slow.slice(0, most));
        },
      ),
    );
  });

  it('are kept to the sources that somebody sees', () => {
    const items = [item(1, 'payroll'), item(2, 'payroll old', 'Old', '2')];
    expect(findItems(selection(items), 'payroll', 5).map((f) => f.id)).toEqual([1, 2]);
    expect(findItems(selection(items, ['2']), 'payroll', 5).map((f) => f.id)).toEqual([2]);
  });

  it('are found by the name of their source, and not by its number', () => {
    const items = [item(1, 'payroll'), item(2, 'payroll', 'Old', '2')];
    const found = (text: string) => findItems(selection(items), text, 5, { 1: 'Port share', 2: 'Crew' });
    expect(found('crew payroll').map((f) => f.id)).toEqual([2]);
    expect(found('2')).toEqual([]);
  });

  it('are none of no words', () => {
    expect(findItems(selection([item(1, 'payroll')]), '  ', 5)).toEqual([]);
  });
});
