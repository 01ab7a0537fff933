import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { fit, ranked, typedWords } from './find-rank.ts';

const one = (words: string, more: { kind?: string; detail?: string; link?: string } = {}) => ({
  ...{ kind: 'source', words, detail: '', link: `/${words}`, ...more },
});
const names = (typed: string, ...all: readonly ReturnType<typeof one>[]) =>
  ranked(typed, { whole: [], part: all }, 10).map((f) => f.words);

describe('what fits best', () => {
  it('is the whole name, then its beginning, then a word in it, then a part of one, then what stands beside it', () => {
    const all = [
      one('Airport', { link: '/5' }),
      one('Care', { detail: 'of the port', link: '/6' }),
      one('Old port share', { link: '/4' }),
      one('Port', { link: '/1' }),
      one('Portal forms', { link: '/3' }),
      one('Port share', { link: '/2' }),
    ];
    expect(names('port', ...all)).toEqual([
      ...['Port', 'Port share', 'Portal forms', 'Old port share', 'Airport', 'Care'],
    ]);
  });

  it('takes words in any order and in parts, with or without accents, and leaves out what lacks one', () => {
    expect(names('share por', one('Port share'), one('Port'), one('Crew share'))).toEqual(['Port share']);
    expect(names('cafe', one('Café Ærø'))).toEqual(['Café Ærø']);
    expect(names('CAFÉ ærø', one('Café Ærø'))).toEqual(['Café Ærø']);
    expect(names('vendor lon', one('Lonhuset', { kind: 'vendor' }), one('Lonhuset old'))).toEqual([
      'Lonhuset',
    ]);
  });

  it('stands once, whoever found it, and no more than were asked for', () => {
    const both = { whole: [one('a'), one('hidden')], part: [one('a'), one('ab'), one('other')] };
    // What an area found for all of it stands, the last.
    expect(ranked('a', both, 10).map((f) => f.words)).toEqual(['a', 'ab', 'hidden']);
    expect(ranked('a', both, 2)).toHaveLength(2);
  });

  it('fits exactly where each word typed stands somewhere, as a slow look says', () => {
    const text = fc.stringMatching(/^[abc ]{0,8}$/);
    fc.assert(
      fc.property(text, text, text, (typed, words, detail) => {
        const all = `${words}\n source ${detail}`.toLowerCase();
        const slow = typedWords(typed).every((w) => all.includes(w));
        expect(fit(typed, one(words, { detail })) !== undefined).toBe(slow);
      }),
    );
  });

  it('reads what is typed as text, whatever it is', () => {
    for (const typed of ['.*', '\\', '%_', '"x', '(', '\u{1F6A2}']) {
      expect(fit(typed, one(`a ${typed} b`))).toBeGreaterThan(0);
      expect(fit(typed, one('a b'))).toBeUndefined();
    }
  });
});
