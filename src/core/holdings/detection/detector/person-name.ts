import type { AnchorFunction, FunctionHit } from './anchor-function.ts';
import type { Step } from './confidence.ts';
import { FIRST_NAMES, FREQUENT_FIRST_NAMES, ORDINARY_SURNAMES, SURNAMES } from '../library/names.ts';
import {
  ALSO_WORDS,
  FAREWELLS,
  GREETINGS,
  NAME_LABELS,
  NAME_PARTS,
  NOBODY,
  NOT_SURNAMES,
  PEOPLE_LABELS,
  RELATIONS,
  TITLES,
} from '../library/name-words.ts';
import { isInitial, nameFrom, nameUpTo } from './name-run.ts';
import { trimmed } from '../../../text/trimmed.ts';

const firstNames = new Set(FIRST_NAMES);
const frequent = new Set(FREQUENT_FIRST_NAMES);
const surnames = new Set(SURNAMES);
const titles = new Set(TITLES);
const notSurnames = new Set(NOT_SURNAMES);
const labels = new Set(NAME_LABELS);
const relations = new Set(RELATIONS);
const greetings = new Set(GREETINGS);
const farewells = new Set(FAREWELLS);
const nobody = new Set(NOBODY);
const nameParts = new Set(NAME_PARTS);
const formLabels = new Set([...NAME_PARTS, ...PEOPLE_LABELS]);

const isNoName = (word: string) => notSurnames.has(word) || labels.has(word);
/** A word that may begin the name of somebody who is in no list. */
const mayBegin = (word: string) =>
  word.length >= 2 &&
  !isNoName(word) &&
  [nobody, titles, greetings, farewells, relations, formLabels].every((set) => !set.has(word));
const isKnownOrCommon = (word: string) => firstNames.has(word) || ALSO_WORDS.has(word);

const ordinary = new Set(ORDINARY_SURNAMES);
/** Those that say something of the word before them. */
const TELLING_SURNAMES = SURNAMES.filter((w) => w.length >= 4 && !isNoName(w) && !ordinary.has(w));
const tellingSurnames = new Set(TELLING_SURNAMES);

/** Names by the words they have, by what stands before them in forms and letters, and by titles. */
export const PERSON: AnchorFunction = {
  words: [
    ...new Set([
      ...[...FIRST_NAMES, ...TITLES, ...GREETINGS, ...FAREWELLS].filter(
        (w) => w.length >= 3 && !notSurnames.has(w),
      ),
      ...TELLING_SURNAMES,
      // A title of two letters is looked for with what stands behind it.
      ...TITLES.filter((t) => t.length === 2).flatMap((t) => [`${t} `, `${t}.`]),
    ]),
  ],
  plainWords: FAREWELLS.filter((w) => w.length > 5),
  signs: [':', '='],
  atSign: (text, at) => {
    if (!/^[ \t\u00a0\n\r\p{Lu}]/u.test(text.slice(at + 1, at + 2))) return undefined;
    const speaking = speaker(text, at);
    if (speaking) return speaking;
    const label = LABEL.exec(text.slice(Math.max(0, at - 60), at));
    const word = label?.[1]?.toLowerCase() ?? '';
    return formLabels.has(word) ? behindLabel(text, at + 1, nameParts.has(word)) : undefined;
  },
  at: (text, start, end) => {
    const word = text.slice(start, end).toLowerCase().replace(/[ .]$/, '');
    if (farewells.has(word)) {
      const signed = signature(text, end);
      if (signed) return signed;
    }
    if (
      /(?:[\p{L}\p{N}@_.\-/]|[\p{L}\p{N}]['’])$/u.test(text.slice(Math.max(0, start - 2), start)) &&
      !/(?:^|[\s.])\p{Lu}\.$/u.test(text.slice(Math.max(0, start - 3), start))
    )
      return undefined;
    if (titles.has(word)) return titled(text, start);
    if (greetings.has(word)) {
      const greeted = addressed(text, end);
      if (greeted) return greeted;
    }
    if (firstNames.has(word)) {
      const known = withFirstName(text, start, word);
      if (known) return known;
    }
    return tellingSurnames.has(word) ? withSurname(text, start, end, word) : undefined;
  },
  cell: (text, start, end) => {
    const [a, b] = trimmed(text, start, end);
    const value = text.slice(a, b);
    if (!/^(?:\p{Lu}[\p{L}\p{M}.'’-]*)(?:[ ,]+[\p{L}\p{M}.'’-]+){0,5}$/u.test(value)) return undefined;
    const known = value.split(/[ ,]+/).some((w) => firstNames.has(w.toLowerCase()) || surnameStep(w));
    const step = known
      ? { words: 'written like a name', steps: 0 }
      : { words: 'no known name is in it', steps: -2 };
    return { start: a, end: b, steps: [step] };
  },
};

/** A line of a conversation: the time, who speaks, a colon. */
const SPEAKS =
  /(?:^|\n)[[(<]?(?:[\d./-]{6,10},? )?\d{1,2}[:.]\d\d(?:[:.]\d\d)?(?: ?[AaPp][Mm])?[\])>]?,?(?: - | –? ?)(\p{Lu}[\p{L}'’-]+(?: \p{Lu}[\p{L}.'’-]*){0,3})$/u;

function speaker(text: string, at: number): FunctionHit | undefined {
  if (text[at] !== ':') return undefined;
  const name = SPEAKS.exec(text.slice(Math.max(0, at - 90), at))?.[1];
  if (name === undefined || !firstNames.has((name.split(' ')[0] as string).toLowerCase())) return undefined;
  return { start: at - name.length, end: at, steps: [{ words: 'speaks in a conversation', steps: 3.2 }] };
}

function withFirstName(text: string, start: number, word: string): FunctionHit | undefined {
  const { end, words } = nameFrom(text, start, isNoName);
  if (words.length === 0 || (words[0] as string).toLowerCase().split(/['’-]/)[0] !== word.split('-')[0])
    return undefined;
  const steps: Step[] = [{ words: `“${words[0]}” is a first name`, steps: 0 }];
  if (words.length === 1) {
    const turned = turnedName(text, start, end);
    if (turned !== undefined)
      return { start: turned, end, steps: [...steps, { words: 'written surname first', steps: 2.2 }] };
    if (ALSO_WORDS.has(word)) return undefined;
    if (frequent.has(word) && DOES.test(text.slice(end, end + 24)))
      return { start, end, steps: [...steps, { words: 'does what people do', steps: 2.2 }] };
    const before = leadingTo(text, start, end);
    if (before) return { start, end, steps: [...steps, { words: `after “${before}”`, steps: 2.5 }] };
    return undefined;
  }
  steps.push(...wordSteps(words, isFollowedByName(text, end)));
  return { start, end, steps };
}

/** What only somebody can do, behind a first name that stands alone. */
const DOES =
  /^ (?:said|says|told|asked|called|phoned|rang|wrote|emailed|replied|confirmed|complained|reported|apologised|sagde|siger|ringede|skrev|spurgte|fortalte|svarede|klagede|sade|säger|ringde|frågade|berättade|svarade|klagade|sagte|sagt|rief|schrieb|fragte|erzählte|antwortete|meldete)(?!\p{L})/u;

/** What the words of a name say for it; nothing where its first name is in no list. */
function wordSteps(words: readonly string[], goesOn: boolean): readonly Step[] {
  const [first = '', second = ''] = words;
  // Of a double first name, one is enough.
  const [word = ''] = first.toLowerCase().split('-');
  if (words.length < 2 || !firstNames.has(word)) return [];
  const steps: Step[] = [];
  if (ALSO_WORDS.has(word)) steps.push({ words: `“${first}” is a word of its own too`, steps: -2 });
  const surname = words.at(-1) as string;
  const formed = surnameStep(surname);
  if (formed) steps.push(formed);
  else if (words.length >= 3 && firstNames.has(second.toLowerCase()))
    steps.push({ words: 'two first names in a row', steps: 1.5 });
  else if (frequent.has(word) && !ALSO_WORDS.has(word) && surname.length > 2 && !goesOn)
    steps.push({ words: `“${first}” is a frequent first name`, steps: 2.1 });
  if (words.every((w) => w === w.toUpperCase() && w.length > 1))
    steps.push({ words: 'all in capitals', steps: -1 });
  return steps;
}

function surnameStep(written: string): Step | undefined {
  const surname = written.toLowerCase();
  if (surname.split('-').some((p) => surnames.has(p)))
    return { words: `“${written}” is a surname`, steps: 2.2 };
  if (/^(?:O['’]\p{Lu}|Mc\p{Lu}|Mac\p{Lu}|Fitz\p{Lu})/u.test(written))
    return { words: `“${written}” is formed like a surname`, steps: 2.2 };
  if (
    /(?:sen|sson|son|gaard|gård|berg|ström|strøm|lund|quist|qvist|holm|mann|feld|stein|hoff|ski|ska|wicz|ov|ova|ić|escu|oğlu|opoulos|sdóttir|sdottir)$/u.test(
      surname,
    )
  )
    return { words: `“${written}” is formed like a surname`, steps: 2.1 };
  return undefined;
}

/** A surname whose first name is in no list: it needs the word before it to look like one. */
function withSurname(text: string, start: number, end: number, word: string): FunctionHit | undefined {
  const before = nameUpTo(text, start);
  // What leads to a name is no part of it.
  const own = before.findIndex((w) => isInitial(w.text) || mayBegin(w.text.toLowerCase()));
  const first = before[own];
  if (!first) return undefined;
  const names = before.slice(own).map((w) => w.text);
  const initials = names.every(isInitial);
  if (!initials && names.some((n) => isKnownOrCommon(n.toLowerCase()))) return undefined;
  const { end: last, words } = nameFrom(text, start, isNoName);
  if (words.length === 0 || last < end) return undefined;
  const written = words.at(-1) as string;
  if (ALSO_WORDS.has(word)) return undefined;
  const steps: Step[] = [{ words: `“${written}” is a surname`, steps: initials ? 2.1 : -1 }];
  return { start: first.start, end: last, steps };
}

/** A word with a capital goes on right behind: what stands here is part of something longer. */
const isFollowedByName = (text: string, end: number) => /^ \p{Lu}/u.test(text.slice(end, end + 2));

/** A label before its colon: “Name”, “Witness 1”, “Reported by”, “Name of the pupil (in capitals)”. */
const LABEL =
  /(?<!\p{L})(\p{L}{2,}?)(?:\(?e?[nrs]\)?)?(?: (?:by|af|av|von|\d{1,2}|(?:of|på|des|der|for|för|für) (?:the )?\p{L}{3,20}))?(?: \([^)\n]{1,30}\))? ?$/u;

/** The name that stands behind a label’s colon, which ends at `from`. */
function behindLabel(text: string, from: number, isPart: boolean): FunctionHit | undefined {
  const start =
    from + (/^[ \t\u00a0]{0,8}(?:\r?\n[ \t]{0,4})?/.exec(text.slice(from, from + 16))?.[0].length ?? 0);
  const { end: last, words } = nameFrom(text, start, isNoName);
  const [first = ''] = words;
  const bare = first.toLowerCase();
  if (!(mayBegin(bare) || (isInitial(first) && (words.at(-1) as string).length > 2))) return undefined;
  if (words.length < 2 && !isPart) return undefined;
  // A firm, a street or a ship goes on with the word for what it is.
  const rest = text.slice(last, last + 24);
  const next = /^[ -]?([\p{L}/&]+)/u.exec(rest)?.[1]?.toLowerCase() ?? '';
  if (notSurnames.has(next) || /^(?:a\/s|&|aps|s\.a)$/.test(next)) return undefined;
  if (words.length < 2) {
    if (!/^[ \t]*(?:[\r\n;,|]|$)/.test(rest) || first.length < 3 || nobody.has(bare)) return undefined;
    return { start, end: last, steps: [{ words: 'written alone behind a label of a name', steps: 0 }] };
  }
  return {
    start,
    end: last,
    steps: [{ words: 'written like a name behind a label', steps: 1 }, ...wordSteps(words, false)],
  };
}

/** The name below, or right behind, the words a letter ends with. */
function signature(text: string, end: number): FunctionHit | undefined {
  const gap = /^[,.!:]?[ \t]*(?:\r?\n[ \t]*){0,3}(?:[-–] ?)?/.exec(text.slice(end, end + 24))?.[0] ?? '';
  if (gap === '') return undefined;
  const start = end + gap.length;
  const { end: last, words } = nameFrom(text, start, isNoName);
  const [first = ''] = words;
  const bare = first.toLowerCase();
  if (words.length < 2 || !mayBegin(bare)) return undefined;
  if (!/^[ \t]*(?:[\r\n,|/(]|$)/.test(text.slice(last, last + 12))) return undefined;
  if (words.some((w) => nobody.has(w.toLowerCase()))) return undefined;
  return { start, end: last, steps: [{ words: 'signed below a letter', steps: 2.7 }] };
}

/** Whoever a letter is to. */
function addressed(text: string, end: number): FunctionHit | undefined {
  if (text[end] !== ' ') return undefined;
  const start = end + 1;
  const { end: last, words } = nameFrom(text, start, isNoName);
  const [first = ''] = words;
  const bare = first.toLowerCase();
  if (words.length < 2 || !mayBegin(bare) || words.some((w) => nobody.has(w.toLowerCase()))) return undefined;
  if (!/^(?:[,!:]|\s*\n|$)/.test(text.slice(last, last + 4))) return undefined;
  return { start, end: last, steps: [{ words: 'a letter is to them', steps: 2.7 }] };
}

function titled(text: string, start: number): FunctionHit | undefined {
  // A house or a ship: “The Lord Nelson”.
  if (/(?<!\p{L})The $/u.test(text.slice(Math.max(0, start - 5), start))) return undefined;
  let i = start;
  for (let n = 0; n < 4; n++) {
    const m = /^(\p{L}+)\.?(?: |\u00a0)+/u.exec(text.slice(i, i + 24));
    // In capitals it is a ship’s.
    if (!m || m[1] === 'MS' || !titles.has((m[1] as string).toLowerCase())) break;
    i += m[0].length;
  }
  if (i === start) return undefined;
  const { end, words } = nameFrom(text, i, isNoName);
  const [first = ''] = words;
  const bare = first.toLowerCase();
  if (words.length === 0 || first.length < 3 || isNoName(bare) || nobody.has(bare)) return undefined;
  // Letters that nobody can say are a code.
  if (/^\p{Lu}+$/u.test(first) && !/[AEIOUYÆØÅÄÖÜ]/.test(first)) return undefined;
  return {
    start: i,
    end,
    steps: [{ words: `after the title “${text.slice(start, i).trim()}”`, steps: 3 }],
  };
}

/** The word before a first name that stands alone, by which it is somebody’s. */
function leadingTo(text: string, start: number, end: number): string | undefined {
  const m = /(\p{L}+)([,.!]?\s{1,3})$/u.exec(text.slice(Math.max(0, start - 24), start));
  if (!m) return undefined;
  const [, before = '', gap] = m;
  const word = before.toLowerCase();
  const behind = text.slice(end, end + 3);
  if (gap === ' ' && relations.has(word)) return before;
  if (gap === ' ' && greetings.has(word) && /^(?:[,!:]|\s*\n|$)/.test(behind)) return before;
  return farewells.has(word) && /^\s*(?:\n|$)/.test(behind) ? before : undefined;
}

/** The start of `Surname, First` at the beginning of a line, cell or list. */
function turnedName(text: string, start: number, end: number): number | undefined {
  if (text[start - 2] !== ',') return undefined;
  const m = /(?:^|[\n\t;|"(:•*-] ?|\d[.)] )(\p{Lu}(?:[\p{Ll}\p{M}]+|\p{Lu}+)(?:-\p{Lu}\p{L}+)?), $/u.exec(
    text.slice(Math.max(0, start - 40), start),
  );
  if (!m || !/^(?:$|[\s.;:,|")\n])/u.test(text.slice(end, end + 1))) return undefined;
  const surname = (m[1] as string).toLowerCase();
  if (isNoName(surname)) return undefined;
  // In a sentence, a word at its beginning and a comma are not enough.
  if (!surnames.has(surname) && !/^(?:$|[\n;\t|)"])/.test(text.slice(end, end + 1))) return undefined;
  return start - (m[1] as string).length - 2;
}
