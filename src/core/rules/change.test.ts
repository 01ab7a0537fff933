import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { apply, change, invert, inWords, merge, same, squash, type Json } from './change.ts';

const json = fc.jsonValue({ maxDepth: 3 }).map((v) => JSON.parse(JSON.stringify(v)) as Json);
const object = fc.dictionary(fc.string({ maxLength: 3 }), json, { maxKeys: 5 });

describe('change', () => {
  it('leads from one value to the other, and back when inverted', () => {
    fc.assert(
      fc.property(json, json, (a, b) => {
        const forward = change(a, b);
        expect(same(apply(a, forward), b)).toBe(true);
        expect(same(apply(b, invert(forward)), a)).toBe(true);
      }),
    );
  });

  it('squashes two steps into one that has the same effect', () => {
    fc.assert(
      fc.property(object, fc.string({ maxLength: 3 }), json, json, (base, key, v, w) => {
        const mid = apply(base, change(base, { ...base, [key]: v }));
        const end = apply(mid, change(mid, { ...(mid as Record<string, Json>), [key]: w }));
        expect(
          same(
            change(base, end).reduce<Json>((x, d) => apply(x, [d]), base),
            end,
          ),
        ).toBe(true);
        const there = [{ path: ['n'], before: 1, after: 2 }];
        expect(squash(there, invert(there))).toEqual([]);
      }),
    );
  });

  it('refuses to apply to a value that has moved on', () => {
    expect(() => apply({ days: 61 }, change({ days: 60 }, { days: 90 }))).toThrow(/days is not what/);
  });

  it('keeps a key named __proto__ a key', () => {
    const hostile = JSON.parse('{"__proto__":{"admin":true}}') as Json;
    const made = apply({}, change({}, hostile));
    expect(({} as Record<string, unknown>)['admin']).toBeUndefined();
    expect(Object.keys(made as object)).toEqual(['__proto__']);
  });
});

describe('inWords', () => {
  it('tells numbers, lists, what was added and what is gone', () => {
    const before = { keep: 60, purposes: ['a', 'b'], note: 'x' };
    const after = { keep: 90, purposes: ['b', 'c'], owner: 'Tove' };
    const words = inWords(change(before, after), {
      path: ([key]) => (key === 'keep' ? 'Keep for' : undefined),
      value: (v) => (typeof v === 'number' ? `${v} days` : undefined),
    });
    expect(words).toEqual([
      'Keep for: 60 days → 90 days',
      'purposes: c added; a removed',
      'note: x removed',
      'owner: Tove added',
    ]);
  });
});

describe('merge', () => {
  it('takes both when they touch different things', () => {
    const base = { a: 1, b: { c: 2, d: 3 } };
    const result = merge(base, { a: 1, b: { c: 9, d: 3 } }, { a: 5, b: { c: 2, d: 3 } });
    expect(result).toEqual({ value: { a: 5, b: { c: 9, d: 3 } }, conflicts: [] });
  });

  it('names the place where they collide, and keeps mine there', () => {
    const result = merge({ t: 'old' }, { t: 'mine' }, { t: 'theirs' });
    expect(result).toEqual({
      value: { t: 'mine' },
      conflicts: [{ path: ['t'], mine: 'mine', theirs: 'theirs' }],
    });
  });

  it('of a value with itself changes nothing', () => {
    fc.assert(
      fc.property(object, object, (base, mine) => {
        const { value, conflicts } = merge(base, mine, base);
        expect(same(value, mine)).toBe(true);
        expect(conflicts).toEqual([]);
      }),
    );
  });
});
