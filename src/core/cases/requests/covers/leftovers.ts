import { nameKey, subjectValues, traitKey, type Subject } from '../person/subject.ts';

/** A file of a package as a person reads it. */
export interface PackedText {
  readonly file: string;
  readonly text: string;
}

/** A covered value that stands somewhere in clear. */
export interface Stands {
  readonly value: string;
  readonly file: string;
}

/** Shorter ones stand in other words by chance. */
const SHORTEST = 4;

/**
 * Which of the covered values stand in what goes out: as a word of their own, in any case. What is the person’s own as well,
 * such as a family name that is theirs too, is not searched for.
 */
export function standing(
  values: readonly string[],
  files: readonly PackedText[],
  subject: Subject,
): readonly Stands[] {
  const own = subjectValues(subject);
  const names = new Set(own.filter((v) => v.trait === 'name').flatMap((v) => v.key.split(' ')));
  const isOwn = (value: string) =>
    nameKey(value)
      .split(' ')
      .every((w) => names.has(w)) || own.some((v) => traitKey(v.trait, value) === v.key);
  const wanted = [...new Set(values.map((v) => v.trim()))].filter((v) => v.length >= SHORTEST && !isOwn(v));
  const found: Stands[] = [];
  for (const { file, text } of files) {
    const lower = text.toLowerCase();
    for (const value of wanted) if (standsIn(lower, value.toLowerCase())) found.push({ value, file });
  }
  return found;
}

const LETTER = /[\p{L}\p{N}]/u;

function standsIn(text: string, value: string): boolean {
  for (let at = text.indexOf(value); at >= 0; at = text.indexOf(value, at + 1)) {
    const [before = ' ', after = ' '] = [text[at - 1], text[at + value.length]];
    if (!LETTER.test(before) && !LETTER.test(after)) return true;
  }
  return false;
}
