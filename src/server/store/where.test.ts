import fc from 'fast-check';
import { expect, it } from 'vitest';
import { Where } from './where.ts';

it('leaves out what is not asked for', () => {
  const where = new Where().and('a = ?', 1).and('b = ?', undefined).and('c = ?', '').and('d IS NULL');
  expect([where.sql, where.params]).toEqual(['a = ? AND d IS NULL', [1]]);
  expect(new Where().sql).toBe('1 = 1');
});

it('looks for a text as it is written, in each column', () => {
  const where = new Where().holding(['n', 'h'], '50%_\\').holding(['n'], '');
  expect([where.sql, where.params]).toEqual(['(n LIKE ? OR h LIKE ?)', ['%50\\%\\_\\\\%', '%50\\%\\_\\\\%']]);
});

/** What the conditions of `after` say of a row, read one by one. */
function holds(where: Where, row: readonly number[]): boolean {
  let at = 0;
  const sql = where.sql
    .replace(/([abc]) ([=<>]) \?/g, (_, c: string, how: string) => {
      const value = where.params[at++] as number;
      const mine = row['abc'.indexOf(c)] as number;
      return String(how === '=' ? mine === value : how === '<' ? mine < value : mine > value);
    })
    .replaceAll('AND', '&&')
    .replaceAll('OR', '||');
  // Of true, false and the signs between them.
  expect(sql).toMatch(/^[truefals&|() ]+$/);
  return new Function(`return ${sql}`)() as boolean;
}

it('goes on behind a row as the order of its columns does', () => {
  const Key = fc.array(fc.integer({ min: 0, max: 2 }), { minLength: 3, maxLength: 3 });
  fc.assert(
    fc.property(Key, Key, fc.constantFrom('up' as const, 'down' as const), (key, row, order) => {
      const sign = order === 'up' ? 1 : -1;
      const first = row.findIndex((v, i) => v !== key[i]);
      const isBehind = first >= 0 && ((row[first] as number) - (key[first] as number)) * sign > 0;
      expect(holds(new Where().after(['a', 'b', 'c'], order, key), row)).toBe(isBehind);
    }),
  );
  expect(new Where().after(['a'], 'up', undefined).sql).toBe('1 = 1');
});
