import type { ReadDocument, Recognised } from './recognise.ts';
import { nameKey, Subject, traitKey, type Trait } from './subject.ts';

/** A value that a row of theirs tells of them, by which they can be recognised elsewhere. */
export interface LearnedValue {
  readonly trait: Extract<Trait, 'phone' | 'number' | 'address'>;
  readonly value: string;
}

/** More tell nothing more. */
const MOST_LEARNED = 40;

/**
 * What rows that are surely theirs, and name nobody else, tell of them besides: phones, numbers, postal addresses. A birth
 * date is never learned: it is what tells them from others of their name.
 */
export function learnedValues(
  subject: Subject,
  document: ReadDocument,
  recognised: Recognised,
): readonly LearnedValue[] {
  const mine = new Set([subject.name, ...subject.otherNames].flatMap((n) => nameKey(n).split(' ')));
  const learned: LearnedValue[] = [];
  for (const row of recognised.parts) {
    if (row.record === null || row.sure !== 'certain') continue;
    const found = document.found.filter((f) => f.start >= row.start && f.end <= row.end);
    const value = (f: { start: number; end: number }) => document.text.slice(f.start, f.end).trim();
    const names = found.filter((f) => f.trait === 'name');
    if (
      names.some(
        (n) =>
          !nameKey(value(n))
            .split(' ')
            .every((w) => mine.has(w)),
      )
    )
      continue;
    for (const f of found)
      if (
        (f.trait === 'phone' || f.trait === 'number' || f.trait === 'address') &&
        traitKey(f.trait, value(f)) !== ''
      )
        learned.push({ trait: f.trait, value: value(f) });
  }
  return distinct(learned).slice(0, MOST_LEARNED);
}

function distinct(values: readonly LearnedValue[]): readonly LearnedValue[] {
  const seen = new Map<string, LearnedValue>();
  for (const v of values) {
    const key = `${v.trait} ${traitKey(v.trait, v.value)}`;
    if (!seen.has(key)) seen.set(key, v);
  }
  return [...seen.values()];
}

/** The subject with what was learned of them. */
export function withLearned(subject: Subject, learned: readonly LearnedValue[]): Subject {
  const of = (trait: LearnedValue['trait'], known: readonly string[], most: number) => {
    const keys = new Set(known.map((k) => traitKey(trait, k)));
    const more = distinct(learned)
      .filter((l) => l.trait === trait && !keys.has(traitKey(trait, l.value)))
      .map((l) => l.value.slice(0, 200));
    return [...known, ...more].slice(0, most);
  };
  const address = learned.find((l) => l.trait === 'address')?.value.slice(0, 200) ?? '';
  return {
    ...subject,
    phones: of('phone', subject.phones, 10),
    numbers: of('number', subject.numbers, 20),
    address: subject.address || address,
  };
}

/** Whether a value of a column tells rows apart, as a booking reference does. */
export function isTellingKey(value: string): boolean {
  return value.length >= 6 && value.length <= 40 && /\d/.test(value) && !/^\d{4}-\d{2}-\d{2}/.test(value);
}
