import fc from 'fast-check';
import { describe, expect, it, test } from 'vitest';
import { Board, freeTileId, movedTile, Tile } from './board.ts';
import { countsByChance, sharesByChance } from './chance.ts';
import { compareDays, lastDayBefore, valueOn } from './comparison.ts';
import { toldValue, type FigureWords } from './figure.ts';
import { byPart, fewRows, REST_KEY, rowChanges, valueOfRows, type FigureRow } from './figure-row.ts';

const WORDS: FigureWords = { id: 'a.b', name: 'B', definition: 'All b.', unit: 'b', good: 'less' };

/** Big integers, and every table there is. */
function slowFisher(a: number, n: number, b: number, m: number): number {
  const choose = (of: number, k: number): bigint => {
    if (k < 0 || k > of) return 0n;
    let result = 1n;
    for (let i = 0; i < k; i++) result = (result * BigInt(of - i)) / BigInt(i + 1);
    return result;
  };
  const ways = (k: number) => choose(n, k) * choose(m, a + b - k);
  let [sum, all] = [0n, 0n];
  for (let k = 0; k <= a + b; k++) {
    all += ways(k);
    if (ways(k) <= ways(a)) sum += ways(k);
  }
  return Number((sum * 1_000_000_000n) / all) / 1e9;
}

describe('what chance does', () => {
  it('agrees with every table counted in whole numbers, where few are expected', () => {
    fc.assert(
      fc.property(fc.nat(40), fc.nat(40), fc.nat(40), fc.nat(40), (a, x, b, y) => {
        const [n, m] = [a + x, b + y];
        const few = (Math.min(a + b, x + y) * Math.min(n, m)) / (n + m) < 5;
        fc.pre(n > 0 && m > 0 && few);
        const p = sharesByChance({ successes: a, trials: n }, { successes: b, trials: m });
        expect(p).toBeCloseTo(slowFisher(a, n, b, m), 5);
      }),
    );
  });

  // Two-sided, of a binomial with a half: 2·Σ below, as any table of it has.
  test.each([
    [0, 0, 1],
    [5, 5, 1],
    [0, 5, 0.0625],
    [1, 9, 0.021484],
    [2, 10, 0.038574],
    [10, 25, 0.016674],
  ])('counts of %i and %i: %f', (a, b, p) => expect(countsByChance(a, b)).toBeCloseTo(p, 4));

  it('is the same both ways round, and in [0, 1]', () => {
    fc.assert(
      fc.property(fc.nat(3000), fc.nat(3000), (a, b) => {
        expect(countsByChance(a, b)).toBeCloseTo(countsByChance(b, a), 9);
        expect(countsByChance(a, b)).toBeGreaterThanOrEqual(0);
        expect(countsByChance(a, b)).toBeLessThanOrEqual(1);
      }),
    );
  });
});

describe('the period before', () => {
  test.each([
    ['2026-12-01', 'week', '2026-11-29'],
    ['2026-11-29', 'week', '2026-11-22'],
    ['2026-12-01', 'month', '2026-11-30'],
    ['2028-03-31', 'month', '2028-02-29'],
    ['2026-12-01', 'quarter', '2026-09-30'],
    ['2026-02-14', 'quarter', '2025-12-31'],
    ['2026-12-31', 'year', '2025-12-31'],
  ] as const)('of %s, the %s before ended on %s', (day, period, last) =>
    expect(lastDayBefore(day, period)).toBe(last),
  );

  it('is what was kept last on or before the day, never long before it', () => {
    const days = ['2026-09-01', '2026-09-25', '2026-10-02'].map((day, n) => ({ day, value: n }));
    expect(valueOn(days, '2026-09-30')?.value).toBe(1);
    expect(valueOn(days, '2026-10-02')?.value).toBe(2);
    expect(valueOn(days, '2026-09-20')).toBeUndefined();
    expect(valueOn(days, '2026-08-31')).toBeUndefined();
  });
});

describe('a comparison', () => {
  const on = (day: string, value: number | null, of?: number) => ({
    day,
    value,
    ...(of === undefined ? {} : { of }),
  });

  it('tells a full count as what it is, and which way it went', () => {
    expect(compareDays(WORDS, on('2026-12-01', 9), on('2026-09-30', 12))).toMatchObject({
      ...{ change: -3, way: 'better', sure: 'counted' },
    });
    expect(compareDays({ ...WORDS, good: 'more' }, on('b', 9), on('a', 12))?.way).toBe('worse');
    expect(compareDays({ ...WORDS, good: 'neither' }, on('b', 9), on('a', 12))?.way).toBe('none');
    expect(compareDays(WORDS, on('b', null), on('a', 12))).toBeUndefined();
  });

  it('marks of a sample only what chance would hardly do', () => {
    const sampled = { ...WORDS, unit: '%', good: 'more', sampledDays: 30 } as const;
    const little = compareDays(sampled, on('2026-12-01', 0.527, 4210), on('2026-09-30', 0.523, 4377));
    expect(little).toMatchObject({ sure: 'within chance' });
    expect(little?.why).toMatch(/^So much or more comes about 7 times in 10 by chance alone, with 4,210 now/);
    const much = compareDays(sampled, on('2026-12-01', 0.58, 4210), on('2026-09-30', 0.523, 4377));
    expect(much).toMatchObject({ sure: 'more than chance', way: 'better' });
    expect(compareDays(sampled, on('2026-12-01', 0.58, 4210), on('2026-11-20', 0.5, 4377))?.why).toMatch(
      /share 19 days/,
    );
  });

  it('takes a count as a share of what it is out of, where it is told so', () => {
    const words = { ...WORDS, asShare: true, good: 'more' } as const;
    expect(toldValue(words, { value: 48, of: 50 })).toEqual({ value: 0.96, isShare: true });
    expect(toldValue(words, { value: 0, of: 0 }).value).toBeNull();
    // More of them, and yet a smaller part.
    expect(compareDays(words, on('2026-12-01', 48, 60), on('2026-09-30', 40, 41))?.way).toBe('worse');
  });
});

const row = (key: string, n = 1, more: Partial<FigureRow> = {}): FigureRow => ({
  ...{ key, name: key, n, link: '', parts: {}, ...more },
});
const rows = fc.uniqueArray(
  fc.record({
    key: fc.constantFrom('a', 'b', 'c', 'd', 'e'),
    n: fc.integer({ min: 0, max: 3 }),
    name: fc.constantFrom('x', 'y'),
    link: fc.constant(''),
    parts: fc.constantFrom({}, { site: 's' }),
  }),
  { selector: (r) => r.key },
);

describe('the rows of a day', () => {
  it('are found again from what changed between days, whatever happened', () => {
    fc.assert(
      fc.property(fc.array(rows, { maxLength: 8 }), (days) => {
        const kept: { row: FigureRow; since: number; until: number }[] = [];
        let before: readonly FigureRow[] = [];
        days.forEach((now, day) => {
          const { over, begun } = rowChanges(before, now);
          for (const k of kept) if (k.until === Infinity && over.includes(k.row.key)) k.until = day;
          kept.push(...begun.map((r) => ({ row: r, since: day, until: Infinity })));
          before = now;
        });
        days.forEach((then, day) => {
          const found = kept.filter((k) => k.since <= day && k.until > day).map((k) => k.row);
          expect(new Set(found.map((r) => JSON.stringify(r)))).toEqual(
            new Set(then.map((r) => JSON.stringify(r))),
          );
          expect(found).toHaveLength(then.length);
        });
      }),
    );
  });

  it('keep their sum where there are too many', () => {
    const many = Array.from({ length: 12 }, (_, i) => row(`k${i}`, i));
    const few = fewRows(many, 5);
    expect(few).toHaveLength(6);
    expect(few.at(-1)).toMatchObject({ key: REST_KEY, name: '7 more', n: 21 });
    expect(valueOfRows(WORDS, few)).toBe(valueOfRows(WORDS, many));
  });

  it('make the figure by their sum, their share or their middle', () => {
    const some = [row('a', 1, { of: 4 }), row('b', 9, { of: 16 }), row('c', 2, { of: 4 })];
    expect(valueOfRows({}, some)).toBe(12);
    expect(valueOfRows({ from: 'share' }, some)).toBe(0.5);
    expect(valueOfRows({ from: 'middle' }, some)).toBe(2);
    expect(valueOfRows({ from: 'share' }, [])).toBeNull();
    expect(valueOfRows({ from: 'middle' }, [])).toBeNull();
  });

  it('are told apart by a part, and what the parts sum to is the whole', () => {
    fc.assert(
      fc.property(rows, (some) => {
        const parts = byPart({}, some, 'site');
        expect(parts.reduce((n, p) => n + (p.value ?? 0), 0)).toBe(valueOfRows({}, some));
        expect(parts.reduce((n, p) => n + p.rows, 0)).toBe(some.length);
      }),
    );
  });
});

describe('a board', () => {
  const tiles = ['a', 'b', 'c', 'd'].map((id) => Tile.parse({ id, figure: 'a.b' }));

  it('moves a figure to a place among the others', () => {
    const ids = (all: readonly Tile[]) => all.map((t) => t.id).join('');
    expect(ids(movedTile(tiles, 'a', 2))).toBe('bcad');
    expect(ids(movedTile(tiles, 'd', 0))).toBe('dabc');
    expect(ids(movedTile(tiles, 'b', 99))).toBe('acdb');
    expect(ids(movedTile(tiles, 'z', 0))).toBe('abcd');
    expect(freeTileId([Tile.parse({ id: 't1', figure: 'x' })])).toBe('t2');
  });

  it('takes eight figures and no more, each with an id of its own', () => {
    const board = (n: number, id = (i: number) => `t${i}`) =>
      Board.safeParse({
        name: 'Mine',
        tiles: Array.from({ length: n }, (_, i) => ({ id: id(i), figure: 'a.b' })),
      });
    expect(board(8).success).toBe(true);
    expect(board(9).error?.issues[0]?.message).toMatch(/At most 8 figures/);
    expect(board(2, () => 'same').success).toBe(false);
    expect(Board.safeParse({ name: ' ', tiles: [] }).success).toBe(false);
  });
});
