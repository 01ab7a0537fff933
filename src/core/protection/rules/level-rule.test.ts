import { describe, expect, it } from 'vitest';
import type { LensVocabulary } from '../../lens/fact.ts';
import { parseLens } from '../../lens/lens-text.ts';
import { sentenceText } from '../../rules/sentence.ts';
import { hopelessRules, LevelRuleContent, LevelRuleDraft, levelRuleSentence } from './level-rule.ts';
import { levelVerdict, type PresentLevel, type WeighedRule } from './level-verdict.ts';
import { readSetBy, setByText, verdictWords } from './verdict-words.ts';

const RANKS = new Map([
  ['internal', 1],
  ['confidential', 2],
  ['strict', 3],
]);
const items: LensVocabulary = {
  fact: (id) =>
    id === 'people'
      ? { id, words: 'people in it', type: 'number' }
      : { id, words: 'what it holds', type: 'choice' },
  value: (_fact, value) => ({ card: 'Payment card', health: 'Health condition' })[value],
};
const rule = (more: Partial<LevelRuleContent> = {}): LevelRuleContent => ({
  name: 'Cards',
  level: 'strict',
  lens: parseLens('data one of "card"'),
  how: 'set',
  keeps: 'step',
  because: '',
  ...more,
});

describe('a level rule', () => {
  const names = { levels: [{ value: 'strict', words: 'Strictly confidential' }], items };
  const text = (of: LevelRuleContent) => sentenceText(levelRuleSentence(names), of).split('\n')[0];

  it.each([
    [rule(), 'Set Strictly confidential where what it holds is Payment card, at once.'],
    [rule({ lens: { all: [] } }), 'Set Strictly confidential where it is anything we hold, at once.'],
    [
      rule({ how: 'propose' }),
      'Set Strictly confidential where what it holds is Payment card, once its owner agrees.',
    ],
    [rule({ level: 'gone' }), 'Set “gone”, which is gone where what it holds is Payment card, at once.'],
    [rule({ level: '' }), 'Set a level where what it holds is Payment card, at once.'],
  ])('reads as a sentence', (of, words) => expect(text(of)).toBe(words));

  it('is a draft without a level, and whole with one', () => {
    expect(LevelRuleDraft.safeParse(rule({ level: '' })).success).toBe(true);
    expect(LevelRuleContent.safeParse(rule({ level: '' })).success).toBe(false);
  });
});

describe('a rule of an older shape', () => {
  it('sets at once, as it did', () => {
    const { how, ...older } = rule();
    expect(how).toBe('set');
    expect(LevelRuleContent.parse(older)).toEqual(rule());
  });
});

describe('a rule that can never win', () => {
  const of = (id: string, level: string, line: string) => ({ id, level, lens: parseLens(line) });

  it('is one that a stronger rule holds wherever it does', () => {
    const rules = [
      of('1', 'internal', 'data one of "card" and people at least 5'),
      of('2', 'confidential', 'data one of "card", "health"'),
      of('3', 'strict', 'people at least 100'),
      of('4', 'confidential', 'people at least 100 and data one of "health"'),
    ];
    expect(hopelessRules(rules, RANKS)).toEqual([
      { rule: '1', beatenBy: '2' },
      { rule: '4', beatenBy: '3' },
    ]);
  });

  it('is none of those that set the same level, or a stronger one', () => {
    const rules = [of('1', 'strict', 'everything'), of('2', 'strict', 'data one of "card"')];
    expect(hopelessRules(rules, RANKS)).toEqual([]);
    expect(
      hopelessRules([of('1', 'internal', 'everything'), of('2', 'strict', 'data one of "card"')], RANKS),
    ).toEqual([]);
  });
});

describe('why an item has its level', () => {
  const shares: WeighedRule = { id: '1', level: 'internal', keep: true };
  const cards: WeighedRule = { id: '2', level: 'strict', keep: false };
  const more: WeighedRule = { id: '3', level: 'strict', keep: false };
  const names = {
    level: (id: string) => id,
    rule: (id: string) => `rule ${id}`,
    condition: (id: string) => `condition ${id} holds`,
  };
  const by = (level: string, of: PresentLevel['by']): PresentLevel => ({ level, by: of });
  const words = (held: readonly WeighedRule[], present?: PresentLevel) =>
    verdictWords(
      levelVerdict([shares, cards, more], (r) => held.includes(r), present, RANKS),
      present,
      names,
    );

  it.each<[readonly WeighedRule[], PresentLevel | undefined, readonly string[]]>([
    [[], undefined, ['No rule holds for it, and nobody chose a level.']],
    [
      [shares, cards, more],
      undefined,
      [
        'strict by “rule 2”, because condition 2 holds.',
        '“rule 3” says the same.',
        'internal by “rule 1” is weaker and loses.',
      ],
    ],
    [
      [cards],
      by('internal', { is: 'hand' }),
      ['strict by “rule 2”, because condition 2 holds.', 'It is raised from internal.'],
    ],
    [
      [shares],
      by('strict', { is: 'hand' }),
      ['strict, as somebody chose by hand.', 'internal by “rule 1” is not stronger, and leaves it.'],
    ],
    [[], by('strict', { is: 'document' }), ['strict, as the document says itself.']],
    [[], by('strict', { is: 'rule', rule: '2' }), ['strict, as “rule 2” set it.']],
    [
      [],
      by('internal', { is: 'rule', rule: '1' }),
      ['No rule holds for it any more: internal is taken off.'],
    ],
    [
      [shares],
      by('internal', { is: 'rule', rule: '1' }),
      ['internal by “rule 1”, because condition 1 holds.', 'It has that level.'],
    ],
  ])('%#', (held, present, told) => expect(words(held, present)).toEqual(told));

  it.each([{ is: 'hand' }, { is: 'document' }, { is: 'rule', rule: '12' }] as const)(
    'is kept as text: %o',
    (of) => expect(readSetBy(setByText(of))).toEqual(of),
  );
});
