import { parseDay } from '../../text/day.ts';
import type { Day } from './period.ts';

/** A text in plain letters and digits, parted by single spaces, with one at each end: what marks are looked for in. */
export function plainMarks(text: string): string {
  const plain = text
    .normalize('NFKD')
    .replace(/\p{M}/gu, '')
    .toLowerCase()
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim();
  return plain === '' ? ' ' : ` ${plain} `;
}

/**
 * The day in a name: `2026-07-02`, `20260702`, `02.07.2026`, `2 July 2026`, whatever stands around it; of the first of these
 * forms that stands there, the first. A
 * month alone, `2026-07`, is its last day. `undefined` where there is none.
 */
export function dayInName(name: string): Day | undefined {
  for (const { find, day } of WAYS)
    for (const match of name.matchAll(find)) {
      const found = day(match);
      if (found !== undefined) return found;
    }
  return undefined;
}

/** The day of an item, by its name; else by the nearest of the folders that it lies in. */
export function dayOfItem(name: string, place: string): Day | undefined {
  for (const step of [name, ...place.split('/').toReversed()]) {
    const day = dayInName(step);
    if (day !== undefined) return day;
  }
  return undefined;
}

const WAYS: readonly { readonly find: RegExp; readonly day: (match: RegExpMatchArray) => Day | undefined }[] =
  [
    {
      find: /(?<!\d)(\d{4})[-_.](\d{2})[-_.](\d{2})(?!\d)/g,
      day: ([, y, m, d]) => parseDay(`${y}-${m}-${d}`),
    },
    {
      find: /(?<!\d)(\d{1,2})[-_.](\d{1,2})[-_.](\d{4})(?!\d)/g,
      day: ([, d, m, y]) => parseDay(`${d}.${m}.${y}`),
    },
    {
      find: /(?<![\p{L}\d])(\d{1,2})[-_. ]+(\p{L}{3,9})[-_. ]+(\d{4})(?!\d)/gu,
      day: ([, d, m, y]) => parseDay(`${d} ${m} ${y}`),
    },
    {
      find: /(?<!\d)((?:19|20)\d{2})(\d{2})(\d{2})(?!\d)/g,
      day: ([, y, m, d]) => parseDay(`${y}-${m}-${d}`),
    },
    {
      find: /(?<!\d)((?:19|20)\d{2})[-_](\d{2})(?![\d])/g,
      day: ([, y, m]) => lastOfMonth(Number(y), Number(m)),
    },
  ];

function lastOfMonth(year: number, month: number): Day | undefined {
  if (month < 1 || month > 12) return undefined;
  return new Date(Date.UTC(year, month, 0)).toISOString().slice(0, 10);
}

/** Days by what names hold. */
export class MarkedDays {
  readonly #days: ReadonlyMap<string, Day>;
  /** How many words marks have, the most first. */
  readonly #lengths: readonly number[];

  /** Marks as `plainMarks` writes them, without the spaces at their ends. */
  constructor(days: ReadonlyMap<string, Day>) {
    this.#days = days;
    this.#lengths = [...new Set([...days.keys()].map((m) => m.split(' ').length))].sort((a, b) => b - a);
  }

  /** The day of the longest mark that stands in a name as whole words; of those as long, the first. */
  dayIn(name: string): Day | undefined {
    const words = plainMarks(name).trim().split(' ');
    for (const length of this.#lengths)
      for (let from = 0; from + length <= words.length; from++) {
        const day = this.#days.get(words.slice(from, from + length).join(' '));
        if (day !== undefined) return day;
      }
    return undefined;
  }
}

/** A day where it stands in a text. */
export interface FoundDay {
  readonly day: Day;
  readonly at: number;
}

/** The day that a clock takes of a text: the first, earliest or latest; where words are given, of those right behind one of them. */
export function dayInText(
  text: string,
  { which, words }: { readonly which: 'first' | 'earliest' | 'latest'; readonly words: readonly string[] },
): Day | undefined {
  const days = daysInText(text).filter(({ at }) => {
    if (words.length === 0) return true;
    const before = plainMarks(text.slice(Math.max(0, at - BEFORE), at)).trimEnd();
    return words.some((w) => before.endsWith(plainMarks(w).trimEnd()));
  });
  if (which === 'first') return days[0]?.day;
  const sorted = days.map((d) => d.day).toSorted();
  return which === 'earliest' ? sorted[0] : sorted.at(-1);
}

/** How far back words before a day are looked for. */
const BEFORE = 120;

function daysInText(text: string): readonly FoundDay[] {
  const found: FoundDay[] = [];
  // A month alone is no day in running text.
  for (const { find, day } of WAYS.slice(0, -1))
    for (const match of text.matchAll(find)) {
      const is = day(match);
      if (is !== undefined) found.push({ day: is, at: match.index });
    }
  return found.sort((a, b) => a.at - b.at);
}
