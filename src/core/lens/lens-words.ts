import { dayText } from '../text/day.ts';
import type { LensVocabulary } from './fact.ts';
import { isClause, type Clause, type Lens, type Span } from './lens.ts';

/** A lens as a sentence goes on after “Items whose …”; of everything, ''. */
export function lensWords(lens: Lens, vocabulary: LensVocabulary): string {
  return joined(lens, vocabulary, 'top');
}

type Around = 'top' | 'all' | 'any' | 'not';

function joined(lens: Lens, vocabulary: LensVocabulary, around: Around): string {
  if (isClause(lens)) return clauseWords(lens, vocabulary);
  if ('not' in lens) return `not ${bracketed(joined(lens.not, vocabulary, 'not'), isJoined(lens.not))}`;
  const join = 'all' in lens ? 'all' : 'any';
  const parts = 'all' in lens ? lens.all : lens.any;
  if (parts.length === 0) return join === 'any' ? 'nothing' : around === 'top' ? '' : 'anything';
  const words = parts.map((l) => joined(l, vocabulary, parts.length > 1 ? join : around));
  return bracketed(
    words.join(join === 'all' ? ' and ' : ' or '),
    parts.length > 1 && around !== 'top' && around !== join,
  );
}

function bracketed(words: string, needed: boolean): string {
  return needed && !words.startsWith('(') ? `(${words})` : words;
}

/** Whether it reads as several. */
function isJoined(lens: Lens): boolean {
  return !isClause(lens) && !('not' in lens) && ('all' in lens ? lens.all : lens.any).length > 0;
}

/** One condition, as in “kind of document is payroll or invoice”. */
export function clauseWords(clause: Clause, vocabulary: LensVocabulary): string {
  const fact = vocabulary.fact(clause.fact)?.words ?? `“${clause.fact}”, which is gone,`;
  const value = (v: string) => vocabulary.value(clause.fact, v) ?? `“${v}”, which is gone`;
  switch (clause.is) {
    case 'one of':
      return `${fact} is ${orWords(clause.values.map(value))}`;
    case 'at least':
      return `${fact} at least ${clause.number}`;
    case 'at most':
      return `${fact} at most ${clause.number}`;
    case 'since':
      return `${fact} since ${dayText(clause.day)}`;
    case 'before':
      return `${fact} before ${dayText(clause.day)}`;
    case 'within':
      return `${fact} within the last ${spanWords(clause.span)}`;
    case 'longer ago than':
      return `${fact} longer ago than ${spanWords(clause.span)}`;
    case 'in':
      return `${fact} in ${value(clause.place)}`;
    case 'holding':
      return `${fact} holding “${clause.text}”`;
    case 'unknown':
      return `${fact} not known`;
  }
}

export function spanWords({ count, unit }: Span): string {
  return count === 1 ? `1 ${unit.slice(0, -1)}` : `${count} ${unit}`;
}

function orWords(words: readonly string[]): string {
  return words.length < 2 ? (words[0] ?? '') : `${words.slice(0, -1).join(', ')} or ${words.at(-1)}`;
}
