import { describe, expect, it } from 'vitest';
import type { Json } from '../../../rules/change.ts';
import {
  fillSlot,
  sentenceText,
  slotsOf,
  slotValue,
  slotWords,
  takenOut,
  type SlotPart,
} from '../../../rules/sentence.ts';
import { standAlone } from '../pattern/pattern-example.ts';
import { builtInDetectors } from '../library/library.ts';
import { PatternDetector, type Check, type PatternDetectorInput } from './detector.ts';
import { CHECK_OPTIONS, newCheck, patternFault, patternSentence, stepsWords } from './pattern-sentence.ts';

const detectors = builtInDetectors().map((d) => ({ value: d.id, words: d.name }));
const sentence = (of: PatternDetector, editing = true) => patternSentence(of, { detectors }, editing);
const slots = (of: PatternDetector) => slotsOf(sentence(of));
const named = (of: PatternDetector, label: string, nth = 0): SlotPart => {
  const found = slots(of).filter((s) => s.label === label)[nth];
  if (!found) throw new Error(`There is no slot ${label}.`);
  return found;
};
const fill = (of: PatternDetector, label: string, value: Json, nth = 0) =>
  fillSlot(of, named(of, label, nth), value);

const made = (more: Partial<PatternDetectorInput> = {}) =>
  PatternDetector.parse({
    kind: 'pattern',
    id: 'crew-number',
    name: 'Crew number',
    anchor: { by: 'pattern', pattern: standAlone(String.raw`\d{5}`) },
    ...more,
  });
const CREW = made({
  checks: [
    { check: 'length', of: 'digits', from: 5, to: 5 },
    { check: 'check digit', by: 'luhn', passes: 3, fails: -4 },
  ],
  context: [
    { where: 'before', within: 40, words: ['crew', 'no.'], steps: 4 },
    { where: 'line', detector: 'email', steps: -2 },
  ],
  exclude: { values: ['00000'], patterns: ['1{5}', '2{5}'] },
  atLeast: 3,
});

describe('a pattern detector as sentences', () => {
  it('reads as prose; what adds to it stands there only while it is edited', () => {
    const lines = sentenceText(sentence(CREW, false), CREW).split('\n');
    expect(lines.slice(1)).toEqual([
      'Only where it has 5 to 5 digits; else it is no match.',
      'Whether it stands its check digit, luhn; else it is less sure by odds ÷ 16; passed, it is surer by odds × 8.',
      'Surer by the words “crew”, “no.” at most 40 characters before it odds × 16.',
      'Less sure by a finding of E-mail address in the same line odds ÷ 4.',
      'Never “00000”, nor what is written like 1{5} or 2{5}.',
      'Counts from 75% on, in a document with 3 distinct values or more; where another detector reads the same characters, both have them.',
      'Shown with only its ends to be read, as own, after no source named.',
    ]);
    expect(lines[0]).toMatch(
      /^Looks for what is written like \\d\{5\}, in just these capitals, as no part of a longer word or number; alone that is/,
    );
    expect(sentence(CREW, false).map((l) => l.label)).not.toContain('Add');
    expect(sentence(CREW).map((l) => l.label)).toContain('Add');
  });

  it('holds each slot as it is: written back, nothing changes, in any detector that ships', () => {
    let written = 0;
    for (const builtIn of builtInDetectors()) {
      const of = PatternDetector.parse(builtIn);
      for (const s of slots(of)) {
        if (s.label.startsWith('Add') || s.label.startsWith('Make')) continue;
        const value = slotValue(s, of);
        expect(value, `${of.id} ${s.label}`).toBeDefined();
        // A share is edited in whole per cents, and steps between the options are kept as they are.
        if (s.label === 'Counts from' && of.keepFrom * 100 !== Math.round(of.keepFrom * 100)) continue;
        if (s.label === 'When passed' || s.label === 'Otherwise') continue;
        expect(fillSlot(of, s, value!), `${of.id} ${s.label}`).toEqual(of);
        written++;
      }
    }
    expect(written).toBeGreaterThan(2000);
  });

  it('stays a whole detector whatever is chosen of any slot', () => {
    for (const s of slots(CREW))
      if (s.editor.kind === 'choice')
        for (const { value } of s.editor.options) {
          const after = fillSlot(CREW, s, value);
          expect(PatternDetector.safeParse(after).error?.issues, `${s.label}: ${value}`).toBeUndefined();
        }
  });

  it.each(CHECK_OPTIONS.map((o) => o.value as Check['check']))(
    'adds a check by %s, which reads as a condition',
    (kind) => {
      const of = fill(made(), 'Add a check', kind);
      expect(of.checks).toEqual([newCheck(kind)]);
      expect(PatternDetector.safeParse(of).success).toBe(true);
      const line = sentence(of).find((l) => l.label === 'Only where')!;
      expect(line.item).toEqual({ path: ['checks', '0'], what: 'check 1' });
      expect(takenOut(of, line.item!.path)).toEqual(made());
    },
  );

  it('changes one of several checks or contexts alone', () => {
    const longer = fill(CREW, 'Greatest length', 6);
    expect(longer.checks).toEqual([{ ...CREW.checks[0], to: 6 }, CREW.checks[1]]);
    const less = fill(CREW, 'What it does to the odds', '-8');
    expect(less.checks[1]).toMatchObject({ fails: -8, passes: 3 });
    const words = fill(fill(CREW, 'Kind of context', 'words', 1), 'Words', ['berth'], 1);
    expect(words.context).toEqual([
      CREW.context[0],
      { where: 'line', within: 60, words: ['berth'], steps: -2 },
    ]);
    expect(fill(CREW, 'Where', 'heading').context[0]).toMatchObject({
      where: 'heading',
      words: ['crew', 'no.'],
    });
    expect(slots(fill(CREW, 'Where', 'heading')).some((s) => s.label === 'Characters')).toBe(false);
    expect(takenOut(CREW, ['context', '0']).context).toEqual([CREW.context[1]]);
    expect(fill(made({ checks: [newCheck('entropy')] }), 'Bits a sign', '3.5').checks[0]).toMatchObject({
      from: 3.5,
    });
  });

  it('turns from a pattern into words and back, and keeps where it may stand', () => {
    const words = fill(CREW, 'Kind of anchor', 'words');
    expect(words.anchor).toEqual({ by: 'words', words: ['?'] });
    expect(slotValue(named(words, 'Words'), words)).toEqual([]);
    const typed = fill(words, 'Words', ['a.b', 'c*']);
    const back = fill(typed, 'Kind of anchor', 'pattern');
    expect(slotWords(named(back, 'Pattern'), back)).toBe(String.raw`a\.b|c\*`);
    expect(slotValue(named(back, 'Where it may stand'), back)).toBe('true');
    const anywhere = fill(back, 'Where it may stand', 'false');
    expect(anywhere.anchor).toMatchObject({ pattern: String.raw`a\.b|c\*` });
    expect(fill(anywhere, 'Where it may stand', 'true')).toEqual(back);
    expect(fill(CREW, 'Kind of anchor', 'person name').anchor).toEqual({
      by: 'function',
      name: 'person name',
      headings: [],
    });
    const also = fill(typed, 'Or written like', 'x+');
    expect(also.anchor).toMatchObject({ pattern: 'x+' });
    expect(fill(also, 'Or written like', '').anchor).toEqual(typed.anchor);
  });

  it('reads whole fields once it has headings for them, and not without', () => {
    const of = fill(CREW, 'Headings of fields that it fills', ['Crew no.']);
    expect(of.anchor).toMatchObject({ field: { headings: ['Crew no.'], pattern: String.raw`\d{5}` } });
    expect(fill(of, 'Pattern of what fills a field', 'x').anchor).toMatchObject({ field: { pattern: 'x' } });
    expect(fill(of, 'Headings of fields that it fills', [])).toEqual(CREW);
    expect(sentenceText(sentence(CREW, false), CREW)).not.toContain('fills a field');
  });

  it('makes its pattern from examples', () => {
    const of = fill(CREW, 'Make the pattern from examples', 'BS1234\nBS5678');
    expect(slotWords(named(of, 'Pattern'), of)).toMatch(/BS/);
  });

  it.each([
    ['', 'The pattern is empty.'],
    ['a(', 'Unterminated'],
    [String.raw`\d+`, ''],
  ])('says what is wrong with the pattern “%s”', (pattern, fault) =>
    expect(patternFault(pattern)).toContain(fault),
  );

  it.each([
    [3, 'odds × 8'],
    [-2, 'odds ÷ 4'],
    [0.5, 'odds × 1.4'],
  ])('%d steps are %s', (steps, words) => expect(stepsWords(steps)).toBe(words));
});
