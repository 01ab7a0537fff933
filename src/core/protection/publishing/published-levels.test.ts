import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { groupMark } from '../../accounts/staff/audience.ts';
import { sentenceText } from '../../rules/sentence.ts';
import { lowering, publishedLevels, publishedWords, type WeighedPublication } from './published-levels.ts';
import { newPublication, PublicationContent, PublicationDraft, publicationSentence } from './publication.ts';

const RANKS = new Map([
  ['open', 1],
  ['internal', 2],
  ['confidential', 3],
  ['strict', 4],
]);
const IDA = {
  address: 'ida@line.example',
  groups: new Map([
    ['Payroll', 1],
    ['Crew office', 2],
    ['Ashore', 3],
  ]),
};
const publication = (id: string, more: Partial<WeighedPublication>): WeighedPublication => ({
  ...{ id, levels: ['open', 'internal'], to: ['everyone'], not: [], first: 'weakest', start: 'internal' },
  ...more,
});
const ALL = publication('all', {});
const CREW = publication('crew', {
  levels: ['confidential', 'strict'],
  to: [groupMark('Crew office')],
  first: 'strongest',
  start: 'confidential',
});

describe('levels that somebody is offered', () => {
  it.each<
    readonly [
      string,
      readonly WeighedPublication[],
      readonly string[],
      string | undefined,
      string | undefined,
    ]
  >([
    ['none where nothing is published', [], [], undefined, undefined],
    ['those for everyone', [ALL], ['open', 'internal'], 'internal', 'all'],
    [
      'all, in the order of the nearest',
      [ALL, CREW],
      ['strict', 'confidential', 'internal', 'open'],
      'confidential',
      'crew',
    ],
    [
      'not those of a publication that leaves them out',
      [ALL, { ...CREW, not: [groupMark('Payroll')] }],
      ['open', 'internal'],
      'internal',
      'all',
    ],
    [
      'not those of one for others',
      [ALL, { ...CREW, to: [groupMark('At sea')] }],
      ['open', 'internal'],
      'internal',
      'all',
    ],
    [
      'by one that names them before one of their group',
      [CREW, { ...ALL, to: ['ida@line.example'] }],
      ['open', 'internal', 'confidential', 'strict'],
      'internal',
      'all',
    ],
    [
      'by the nearer group',
      [CREW, publication('pay', { to: [groupMark('Payroll')], start: 'open' })],
      ['open', 'internal', 'confidential', 'strict'],
      'open',
      'pay',
    ],
    [
      'of two as near, by the one that begins with the stronger level',
      [ALL, publication('b', { start: 'open' })],
      ['open', 'internal'],
      'internal',
      'all',
    ],
    [
      'none that is gone',
      [publication('x', { levels: ['gone', 'open'], start: 'gone' })],
      ['open'],
      undefined,
      'x',
    ],
  ])('are %s', (_, publications, levels, start, by) => {
    const found = publishedLevels(publications, IDA, RANKS);
    expect([found.levels, found.start, found.by]).toEqual([levels, start, by]);
  });

  it('explain what won and what gave way', () => {
    const names = { level: (id: string) => id.toUpperCase(), publication: (id: string) => `P ${id}` };
    const out = publication('out', { not: [groupMark('Ashore')] });
    const other = publication('other', { to: ['x@line.example'] });
    expect(publishedWords(publishedLevels([ALL, CREW, out, other], IDA, RANKS), names)).toEqual([
      'They are offered STRICT, CONFIDENTIAL, INTERNAL, OPEN.',
      'Something new begins with CONFIDENTIAL, by “P crew”, which is nearest to them.',
      '“P all” is for them too: its levels are offered, its order and beginning are not.',
      '“P out” leaves them out.',
    ]);
    expect(publishedWords(publishedLevels([out], IDA, RANKS), names)).toEqual([
      'They are offered no level: no publication is for them.',
      '“P out” leaves them out.',
    ]);
  });

  it('are those that a slow reading of the rule finds, in any order of the publications', () => {
    const level = fc.constantFrom('open', 'internal', 'confidential', 'strict', 'gone');
    const mark = fc.constantFrom(
      'everyone',
      'group:Payroll',
      'group:Crew office',
      'group:At sea',
      'ida@line.example',
      'x@line.example',
    );
    const arbitrary = fc.record({
      levels: fc.uniqueArray(level, { maxLength: 4 }),
      to: fc.array(mark, { maxLength: 3 }),
      not: fc.array(mark, { maxLength: 1 }),
      first: fc.constantFrom('weakest' as const, 'strongest' as const),
      start: level,
    });
    const covers = (m: string) =>
      m === 'everyone' || m === 'group:Payroll' || m === 'group:Crew office' || m === 'ida@line.example';
    const far = (m: string) =>
      ['ida@line.example', 'group:Payroll', 'group:Crew office', 'everyone'].indexOf(m);
    fc.assert(
      fc.property(fc.array(arbitrary, { maxLength: 5 }), fc.nat(), (of, turn) => {
        const all = of.map((o, i) => ({ ...o, id: `${i}` }));
        const mine = all.filter((p) => p.to.some(covers) && !p.not.some(covers));
        const wanted = new Set(mine.flatMap((p) => p.levels).filter((l) => RANKS.has(l)));
        const turned = [...all.slice(turn % (all.length || 1)), ...all.slice(0, turn % (all.length || 1))];
        const found = publishedLevels(turned, IDA, RANKS);
        expect(new Set(found.levels)).toEqual(wanted);
        expect(found.by === undefined).toBe(mine.length === 0);
        const nearest = (p: (typeof all)[number]) => Math.min(...p.to.filter(covers).map(far));
        for (const p of mine) {
          const by = mine.find((m) => m.id === found.by);
          expect(by && nearest(by) <= nearest(p)).toBe(true);
        }
        const by = mine.find((m) => m.id === found.by);
        const strengths = found.levels.map((l) => RANKS.get(l) ?? 0);
        expect(strengths).toEqual(strengths.toSorted((a, b) => (by?.first === 'strongest' ? b - a : a - b)));
        expect(found.start).toBe(by && wanted.has(by.start) ? by.start : undefined);
        expect(new Set([...found.lost.map((l) => l.id), ...(found.by ? [found.by] : [])]).size).toBe(
          all.length,
        );
      }),
      { numRuns: 200 },
    );
  });
});

describe('lowering a level', () => {
  const had = (lowered: 'freely' | 'with a reason' | 'never') => ({ id: 'confidential', lowered });
  it.each([
    [undefined, 'open', '', false, undefined],
    [had('never'), 'strict', '', false, undefined],
    [had('never'), 'confidential', '', false, undefined],
    [had('never'), 'open', 'a reason', false, 'never'],
    [had('never'), 'open', '', true, 'needs a reason'],
    [had('never'), 'open', 'a reason', true, undefined],
    [had('with a reason'), 'open', ' ', false, 'needs a reason'],
    [had('with a reason'), 'open', 'a reason', false, undefined],
    [had('with a reason'), undefined, '', false, 'needs a reason'],
    [had('freely'), 'open', '', false, undefined],
    // One that is gone by now is weaker than all.
    [{ id: 'gone', lowered: 'with a reason' as const }, 'open', '', false, undefined],
  ])('%j to %s with “%s” (%s) is %s', (before, after, reason, mayAlways, wanted) => {
    expect(lowering(before, after, RANKS, { reason, mayAlways })).toBe(wanted);
  });
});

describe('a publication', () => {
  const names = {
    levels: [
      { value: 'open', words: 'Open' },
      { value: 'internal', words: 'Internal' },
    ],
    groups: [{ value: 'group:Payroll', words: 'Payroll' }],
  };

  it('reads as sentences, also where nothing is chosen, and what is gone is told', () => {
    const content = {
      ...newPublication('All'),
      levels: ['open', 'internal', 'old'],
      not: ['group:Payroll', 'a@b.example'],
      start: 'internal',
    };
    expect(sentenceText(publicationSentence(names), content)).toBe(
      [
        'Offer Open, Internal, “old”, which is gone to everyone, not to Payroll, a@b.example.',
        'Shown the weakest first; something new begins with Internal.',
        'Because no reason is given.',
      ].join('\n'),
    );
    expect(
      sentenceText(publicationSentence(names), { ...newPublication('None'), to: [] }).split('\n')[0],
    ).toBe('Offer no level yet to nobody yet, not to anybody else.');
  });

  it('is a draft without levels or people, and whole with both', () => {
    const draft = { ...newPublication('Draft'), to: [] };
    expect(PublicationDraft.safeParse(draft).success).toBe(true);
    expect(PublicationContent.safeParse(draft).error?.issues.map((i) => i.path[0])).toEqual(['levels', 'to']);
  });
});
