import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import type { TriedWay } from './notice-reading.ts';
import { press, set, tried } from './notice-reading.fixture.ts';
import { noticeRoles } from './notice-roles.ts';
import { wayWords } from './notice-way.ts';

const roles = (ways: readonly TriedWay[]) => {
  const { accept, refuse, choose } = noticeRoles(ways, 2);
  const of = (role: typeof accept) => role && wayWords(role.way);
  return { accept: of(accept), refuse: of(refuse), choose: of(choose) };
};

describe('the ways through a notice', () => {
  it.each<[string, readonly TriedWay[], ReturnType<typeof roles>]>([
    [
      'the most run after the acceptance, the fewest after the refusal',
      [tried([press('Later')], 2), tried([press('Fine')], 9), tried([press('Hm')], 5)],
      { accept: '“Fine”', refuse: '“Later”', choose: null },
    ],
    [
      'what plainly says so stands, whatever runs',
      [tried([press('Reject all')], 9), tried([press('Later')], 2), tried([press('Accept all')], 5)],
      { accept: '“Accept all”', refuse: '“Reject all”', choose: null },
    ],
    [
      'with one control alone nobody can refuse',
      [tried([press('Fine')], 9)],
      { accept: '“Fine”', refuse: null, choose: null },
    ],
    [
      'what keeps no answer is none',
      [
        tried([press('×')], null, { outcome: 'closes' }),
        tried([press('Fine')], 9),
        tried([press('Later')], 3),
      ],
      { accept: '“Fine”', refuse: '“Later”', choose: null },
    ],
    [
      'where all let the same run, the larger accepts',
      [tried([press('Later')], 4, { size: 0.01 }), tried([press('Fine')], 4, { size: 0.05 })],
      { accept: '“Fine”', refuse: '“Later”', choose: null },
    ],
    [
      'switches all off and saved refuse, all on accept; the one that follows them saves',
      [
        tried([set(), press('Go on')], 2),
        tried([set('A', 'B'), press('Go on')], 8),
        tried([set(), press('Whatever')], 8),
        tried([set('A', 'B'), press('Whatever')], 8),
      ],
      {
        accept: 'only “A”, “B” on, “Go on”',
        refuse: 'all switches off, “Go on”',
        choose: 'all switches off, “Go on”',
      },
    ],
    [
      'the shorter way is taken where as many run',
      [
        tried([press('Later')], 2),
        tried([press('Pick'), set(), press('Keep')], 2),
        tried([press('Fine')], 7),
      ],
      { accept: '“Fine”', refuse: '“Later”', choose: '“Pick”, all switches off, “Keep”' },
    ],
    [
      'a control that saves by its words does, also where nothing follows the switches',
      [
        tried([press('Fine')], 4),
        tried([set(), press('Save choices')], 4),
        tried([set('A'), press('Save choices')], 4),
        tried([set(), press('Later')], 4),
      ],
      { accept: '“Fine”', refuse: 'all switches off, “Later”', choose: 'all switches off, “Save choices”' },
    ],
    [
      'nothing that answers is nothing',
      [tried([press('Menu')], null)],
      { accept: null, refuse: null, choose: null },
    ],
  ])('%s', (_what, ways, expected) => {
    expect(roles(ways)).toEqual(expected);
  });

  it('are told with what was seen', () => {
    const { accept, refuse } = noticeRoles([tried([press('Fine')], 9), tried([press('Later')], 1)], 2);
    expect(accept?.why).toBe('9 trackers ran after it, the most of 2 ways tried; 2 ran before any answer');
    expect(refuse?.why).toBe('1 tracker ran after it, the fewest of 2 ways tried; 2 ran before any answer');
  });

  const way = fc.record({
    words: fc.constantFrom('a', 'b', 'c', 'd', 'e', 'f'),
    ran: fc.option(fc.nat(12)),
    size: fc.constantFrom(0.01, 0.02, 0.05),
  });
  const ways = fc
    .uniqueArray(way, { selector: (w) => w.words, maxLength: 6 })
    .map((list) => list.map(({ words, ran, size }) => tried([press(words)], ran, { size })));

  it('are told apart whatever the order in which they were tried', () => {
    fc.assert(
      fc.property(
        ways.chain((list) =>
          fc.tuple(fc.constant(list), fc.shuffledSubarray(list, { minLength: list.length })),
        ),
        ([list, other]) => {
          expect(roles(other)).toEqual(roles(list));
        },
      ),
    );
  });

  it('let nothing run after the acceptance fewer, nor after the refusal more, than after any other', () => {
    fc.assert(
      fc.property(ways, (list) => {
        const { accept, refuse } = noticeRoles(list, 0);
        const ranAfter = (r: typeof accept) =>
          list.find((t) => r && wayWords(t.way) === wayWords(r.way))?.ran;
        const answers = list.flatMap((t) => (t.ran === null ? [] : [t.ran]));
        expect(accept === null).toBe(answers.length === 0);
        expect(refuse === null).toBe(answers.length < 2);
        if (accept) expect(ranAfter(accept)).toBe(Math.max(...answers));
        if (refuse) expect(ranAfter(refuse)).toBe(Math.min(...answers));
        if (accept && refuse) expect(wayWords(accept.way)).not.toBe(wayWords(refuse.way));
      }),
    );
  });
});
