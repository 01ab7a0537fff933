import { describe, expect, it } from 'vitest';
import fc from 'fast-check';
import { change, inWords, type Json } from './change.ts';
import {
  fillSlot,
  sentenceText,
  sentenceVocabulary,
  slotValue,
  slotsOf,
  slotWords,
  takenOut,
  valueAt,
  type Sentence,
  type SlotPart,
} from './sentence.ts';
import { firstNotice } from '../websites/notice/notice.ts';
import { noticeSentence, noticeTexts, noticeVocabulary } from '../websites/notice/notice-sentence.ts';
import { FIRST_PURPOSES } from '../websites/notice/purpose.ts';

const ship: SlotPart = { path: ['ship'], label: 'Ship', say: String, editor: { kind: 'text', most: 40 } };
const hours: SlotPart = {
  path: ['stay', 'hours'],
  label: 'Stay',
  say: (v) => `${String(v)} h`,
  editor: { kind: 'number', unit: 'hours', least: 1, most: 48 },
};
const SENTENCE: Sentence = [
  { label: 'Let', parts: ['berth 4 to ', ship, ' for ', hours] },
  { label: 'Then', parts: ['clear it'] },
];

describe('a rule as a sentence', () => {
  it('reads as plain text, and says where something is missing', () => {
    const content = { ship: 'MS Hale', stay: { hours: 6 } };
    expect(sentenceText(SENTENCE, content)).toBe('Let berth 4 to MS Hale for 6 h.\nThen clear it.');
    expect(sentenceText(SENTENCE, { ship: 'MS Hale' })).toBe('Let berth 4 to MS Hale for ….\nThen clear it.');
    expect(sentenceText(SENTENCE, null)).toContain('berth 4 to … for …');
  });

  it('fills a slot and nothing else', () => {
    const content = { ship: 'MS Hale', stay: { hours: 6, quay: 'N' } };
    expect(fillSlot(content, hours, 7)).toEqual({ ship: 'MS Hale', stay: { hours: 7, quay: 'N' } });
    expect(content.stay.hours).toBe(6);
    expect(fillSlot({}, hours, 7)).toEqual({ stay: { hours: 7 } });
  });

  it('what is filled in is what is read back, at any path', () =>
    fc.assert(
      fc.property(
        fc.array(fc.string(), { minLength: 1, maxLength: 4 }),
        fc.json().map((j) => JSON.parse(j) as Json),
        fc.json().map((j) => JSON.parse(j) as Json),
        (path, content, value) => {
          expect(valueAt(fillSlot(content, { path }, value), path)).toEqual(value);
        },
      ),
    ));

  it('does not take what an object inherits for a value', () => {
    expect(valueAt({}, ['constructor'])).toBeUndefined();
    expect(valueAt([1] as unknown as Json, ['length', 'x'])).toBeUndefined();
  });

  it('gives the ledger its words', () => {
    const before = { ship: 'MS Hale', stay: { hours: 6 }, note: 'a' };
    const after = { ship: 'MS Corrie', stay: { hours: 8 }, note: 'b' };
    const words = inWords(change(before, after), sentenceVocabulary(slotsOf(SENTENCE)));
    expect(words).toEqual(['Ship: MS Hale → MS Corrie', 'Stay: 6 h → 8 h', 'note: a → b']);
    expect(
      inWords(change(before, after), sentenceVocabulary([], { path: () => 'It', value: () => 'so' })),
    ).toEqual(['It: so → so', 'It: so → so', 'It: so → so']);
  });
});

describe('the sentence of a notice', () => {
  const notice = firstNotice();
  const sentence = noticeSentence('book.example', FIRST_PURPOSES);

  it('reads whole', () => {
    expect(sentenceText(sentence, notice)).toBe(
      [
        'Ask visitors of book.example for Preferences, Measurement, Advertising; Essential is told, never asked.',
        'In English, Danish, by the page’s language, then the visitor’s.',
        'Again after 6 months, or when other purposes are asked for.',
        'Looks as a strip along the foot of the window, ground in #fcfcf9, text in #18262b, buttons in #14403d, button text in #ffffff, letters in the system’s sans-serif at 16 px, corners rounded by 3 px.',
        'Comes back with a control at the foot of the window, on the left.',
        'Links to no policy.',
        'Own style none.',
      ].join('\n'),
    );
  });

  it('has a slot for every value of a notice, so that no change is told by its path', () => {
    const slots = [...slotsOf(sentence), ...slotsOf(noticeTexts('en', ['measurement'], FIRST_PURPOSES))];
    for (const slot of slots) expect(slotWords(slot, notice), slot.label).not.toBe('');
    const paths = (value: Json, path: string[] = []): string[][] =>
      typeof value === 'object' && value !== null && !Array.isArray(value)
        ? Object.entries(value).flatMap(([k, v]) => paths(v as Json, [...path, k]))
        : [path];
    const vocabulary = noticeVocabulary(FIRST_PURPOSES);
    for (const path of paths(notice as unknown as Json))
      expect(vocabulary.path?.(path), path.join('.')).toBeDefined();
    expect(vocabulary.path?.(['texts', 'da'])).toBe('Danish text');
    expect(vocabulary.path?.(['texts', 'da', 'purposes', 'measurement'])).toBe('Measurement, Danish');
  });

  it('goes into lists by the place in them, and takes one out', () => {
    const content = {
      checks: [
        { by: 'luhn', passes: 3 },
        { by: 'mod 11', passes: 0 },
      ],
      words: ['a', 'b'],
    };
    const at = (path: readonly string[]) => ({ path });
    expect(fillSlot(content, at(['checks', '1', 'passes']), 5)).toEqual({
      ...content,
      checks: [content.checks[0], { by: 'mod 11', passes: 5 }],
    });
    expect(fillSlot(content, at(['words', '0']), 'c')).toEqual({ ...content, words: ['c', 'b'] });
    expect(takenOut(content, ['checks', '0'])).toEqual({ ...content, checks: [content.checks[1]] });
    expect(takenOut(content, ['checks', '7'])).toEqual(content);
    expect(takenOut(content, ['nothing', '0'])).toBe(content);
  });

  it('may be edited as something else than what it holds', () => {
    const share: SlotPart = {
      path: ['share'],
      label: 'Share',
      editor: { kind: 'number', unit: '%', least: 0, most: 100 },
      say: (v) => `${String(v)}%`,
      turn: {
        read: (c) => Math.round((c as { share: number }).share * 100),
        write: (c, v) => ({ ...(c as object), share: Number(v) / 100 }),
      },
    };
    expect(slotWords(share, { share: 0.4 })).toBe('40%');
    expect(fillSlot({ share: 0.4, rest: 1 }, share, 55)).toEqual({ share: 0.55, rest: 1 });
    expect(slotValue(share, { share: 0.1 })).toBe(10);
  });
});
