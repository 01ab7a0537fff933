import type { PhraseSet } from './phrase-set.ts';
import { TokenList, tokenize, type Token } from './token.ts';

/** What parts the names in a heading that has several, and what is said of one in brackets. */
const BETWEEN_NAMES = /[/,;|&+()[\]]|(?<!\p{L})(?:or|and|eller|og|och|oder|und)(?!\p{L})/u;

/**
 * A heading or field name as words: `dateOfBirth`, `date_of_birth` and `Date of birth` are the same. Of several names
 * in it, each for itself.
 */
export function headingTokens(heading: string): readonly (readonly Token[])[] {
  const spaced = heading
    .replace(/(\p{Ll}|\p{N})(?=\p{Lu})/gu, '$1 ')
    .replace(/(\p{Lu})(?=\p{Lu}\p{Ll})/gu, '$1 ');
  return spaced
    .split(BETWEEN_NAMES)
    .map((part) => tokenize(part, 0, part.length))
    .filter((tokens) => tokens.length > 0);
}

/** The headings that somebody reads whole fields under. */
export interface Headings {
  readonly phrases: PhraseSet;
  /** They are whole names: a “credit union” is no union. */
  readonly isWhole: boolean;
}

/** Words that say whose it is, or which of several. */
const WHOSE = new Set(
  (
    'employee employees patient passenger customer guest child pupil student user person contact client crew member applicant ' +
    'primary main secondary first second other current known own new old default plain medarbejder patientens kunde elev barn ' +
    'medarbetare kund mitarbeiter kind schüler aktuel aktuell kendte kända bekannte primær primär'
  ).split(' '),
);

/** Whether a name in a heading ends as one of the anchor’s does, with nothing before it that makes another thing of it. */
export function isHeadedBy(tokens: readonly Token[], { phrases, isWhole }: Headings): boolean {
  const list = new TokenList(tokens);
  const { length } = tokens;
  const from = tokens.findIndex((_, i) => i + phrases.matchAt(list, i, length) === length);
  return from >= 0 && (!isWhole || tokens.slice(0, from).every((t) => WHOSE.has(t.word)));
}

/** Words at the end of a heading that do not change what it is of: “first name(s)”, “phone 2”, “diagnosis text”. */
const FILLERS = new Set(
  'name names navn namn text value values description details notes info field'.split(' '),
);

/** The words of a heading, with and without such; an “employee status” is no employee. */
function namesOf(tokens: readonly Token[]): readonly (readonly Token[])[] {
  const wordAt = (i: number) => (tokens[i] as Token).word;
  let { length } = tokens;
  while (length > 1 && /^(?:\d+|\p{L})$/u.test(wordAt(length - 1))) length--;
  const numbered = tokens.slice(0, length);
  while (length > 1 && FILLERS.has(wordAt(length - 1))) length--;
  return length < numbered.length ? [numbered, tokens.slice(0, length)] : [numbered];
}

/** The names in a heading, with and without what does not change them. */
export const headingNames = (heading: string): readonly (readonly Token[])[] =>
  headingTokens(heading).flatMap(namesOf);
