import fc from 'fast-check';
import { describe, expect, it } from 'vitest';
import { change, inWords, type Json } from '../../rules/change.ts';
import { sentenceText, slotsOf, slotWords } from '../../rules/sentence.ts';
import { Level } from './level.ts';
import { LevelContent, levelId, newLevel, stampedLevel } from './level-content.ts';
import { levelSentence, levelVocabulary } from './level-sentence.ts';

const line = { text: '', size: 10, align: 'centre' as const, colour: '#1c2b33' };
const STRICT: LevelContent = {
  ...newLevel('Strict'),
  means: 'Harms people badly',
  top: { ...line, text: '{level} · {owner}', size: 12, colour: '#7a1431' },
  foot: line,
  across: { text: '{level}', size: 64, angle: 40, colour: '#e6c6cf' },
};

describe('a level', () => {
  it('is stamped as its lines say, and not where one is empty', () => {
    expect(stampedLevel('strict', { ...STRICT, shown: 'Streng vertraulich' })).toEqual({
      id: 'strict',
      name: 'Streng vertraulich',
      marking: {
        header: { text: '{level} · {owner}', size: 12, align: 'centre', colour: '#7a1431' },
        footer: null,
        watermark: { text: '{level}', size: 64, angle: 40, colour: '#e6c6cf' },
      },
    });
    expect(stampedLevel('x', newLevel('Open')).name).toBe('Open');
    expect(Level.safeParse(stampedLevel('x', newLevel('Open'))).success).toBe(true);
  });

  it('reads as sentences; what is not stamped has no size, place or colour to set', () => {
    expect(sentenceText(levelSentence(STRICT), STRICT).split('\n')).toEqual([
      'Means Harms people badly; stewards read nothing more.',
      'Goes on files, mail.',
      'Top {level} · {owner} in 12 pt, centred, #7a1431.',
      'Foot nothing.',
      'Across {level} in 64 pt, rising 40°, #e6c6cf; on documents and slides, never on mail or sheets.',
      'Called by its name on documents, #5b6b73 on the desk.',
      'Lowered with a reason.',
    ]);
    expect(slotsOf(levelSentence(STRICT)).map((s) => s.label)).not.toContain('Foot: size');
  });

  it.each([
    [-12, 'falling 12°'],
    [0, 'level'],
    [90, 'rising 90°'],
  ])('turned by %d is %s', (angle, words) => {
    const content = { ...STRICT, across: { ...STRICT.across, angle } };
    const slot = slotsOf(levelSentence(content)).find((s) => s.label === 'Across: angle')!;
    expect(slotWords(slot, content)).toBe(words);
  });

  it('that was changed is told in words', () => {
    const after: LevelContent = {
      ...STRICT,
      top: { ...STRICT.top, size: 14 },
      goesOn: ['files'],
      lowered: 'never',
    };
    expect(inWords(change(STRICT as unknown as Json, after as unknown as Json), levelVocabulary())).toEqual(
      expect.arrayContaining([
        expect.stringMatching(/^Top: size: .*12 pt.*14 pt/),
        expect.stringMatching(/by nobody but an officer/),
      ]),
    );
  });

  it.each([
    ['name', ''],
    ['colour', 'red'],
    ['top', { ...line, size: 400 }],
  ])('with another %s is refused', (key, value) => {
    expect(LevelContent.safeParse({ ...STRICT, [key]: value }).success).toBe(false);
  });

  it('has an id that any file of levels takes, and no other level has', () => {
    expect(levelId('Streng vertraulich!', new Set())).toBe('streng-vertraulich');
    expect(levelId('Åben', new Set(['aben']))).toBe('aben-2');
    expect(levelId('機密', new Set())).toBe('level');
    fc.assert(
      fc.property(fc.array(fc.string({ maxLength: 80 }), { maxLength: 12 }), (names) => {
        const taken = new Set<string>();
        for (const name of names) {
          const id = levelId(name, taken);
          expect(taken.has(id)).toBe(false);
          expect(Level.shape.id.safeParse(id).success).toBe(true);
          taken.add(id);
        }
      }),
    );
  });
});
