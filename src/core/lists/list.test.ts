import { describe, expect, it } from 'vitest';
import { z } from 'zod';
import { exportColumns, listWish, sortableColumns, wishQuery, type ListDefinition } from './list.ts';
import { listShape } from './list-shape.ts';

const SHIPS: ListDefinition = {
  name: 'ships',
  columns: {
    name: { words: 'Name', sorts: true },
    metres: { words: 'Length', sorts: true },
    call: { words: 'Call sign', exportOnly: true },
    picture: { words: 'Picture', shownOnly: true },
  },
  filters: {
    state: { kind: 'choice', words: 'State', options: { sailing: 'Sailing', laid: 'Laid up' } },
    port: { kind: 'value', words: 'Port', most: 5 },
    from: { kind: 'from', words: 'From' },
  },
  search: 'name',
  order: { sort: 'age', order: 'down' },
};
const parse = (input: object) => z.object(listShape(SHIPS)).safeParse(input);

describe('a declared list', () => {
  it.each<[object, boolean]>([
    [{}, true],
    [{ text: 'hale', sort: 'metres', order: 'up', state: 'sailing', port: 'Hals', from: '2026-11-20' }, true],
    [{ sort: 'age' }, true],
    [{ sort: 'call' }, false],
    [{ sort: 'name; DROP TABLE ship' }, false],
    [{ order: 'sideways' }, false],
    [{ state: 'sunk' }, false],
    [{ port: 'Halmsund' }, false],
    [{ from: '2026-02-31' }, false],
    [{ text: 'x'.repeat(101) }, false],
  ])('lets %o through: %s', (input, ok) => expect(parse(input).success).toBe(ok));

  it('reads what is wished, by its own order where nothing is said', () => {
    expect(listWish(SHIPS, {})).toEqual({ text: '', sort: 'age', order: 'down', filters: {} });
    expect(listWish(SHIPS, { sort: 'name' })).toMatchObject({ sort: 'name', order: 'up' });
    expect(listWish(SHIPS, { sort: 'age', order: 'up' })).toMatchObject({ order: 'up' });
    expect(listWish(SHIPS, { text: ' hale ', state: 'laid', port: '', other: 'x' })).toMatchObject({
      text: 'hale',
      filters: { state: 'laid' },
    });
  });

  it.each([
    {},
    { sort: 'name' },
    { sort: 'name', order: 'down' },
    { order: 'up' },
    { state: 'laid', port: 'Hals', from: '2026-11-20', text: 'a' },
  ])('is the same list again from its address: %o', (input) => {
    const wish = listWish(SHIPS, input);
    const query = Object.fromEntries(
      Object.entries(wishQuery(SHIPS, wish)).filter(([, v]) => v !== undefined),
    );
    expect(listWish(SHIPS, query)).toEqual(wish);
    // Nothing stands in the address that goes without saying.
    expect(Object.keys(query).length).toBeLessThanOrEqual(Object.keys(input).length);
  });

  it('exports what it shows and what it has for exports alone', () => {
    expect(exportColumns(SHIPS).map(([id]) => id)).toEqual(['name', 'metres', 'call']);
    expect(sortableColumns(SHIPS)).toEqual(['name', 'metres']);
  });
});
