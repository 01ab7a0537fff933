import { FIRST_NAMES, SURNAMES } from './library/names.ts';
import {
  ALSO_WORDS,
  FAREWELLS,
  GREETINGS,
  NAME_LABELS,
  NOT_SURNAMES,
  RELATIONS,
  TITLES,
} from './library/name-words.ts';
import type { Step } from './confidence.ts';

export interface FunctionHit {
  readonly start: number;
  readonly end: number;
  readonly steps: readonly Step[];
}

/** An anchor that is a function: set off by words, or by whole cells under a heading. */
export interface AnchorFunction {
  /** Lower case, three letters or more, written with a capital in the text. */
  readonly words: readonly string[];
  /** The match that the word at [start, end) belongs to. */
  readonly at: (text: string, start: number, end: number) => FunctionHit | undefined;
  /** The match in a cell that stands under one of the detector's headings. */
  readonly cell: (text: string, start: number, end: number) => FunctionHit | undefined;
}

export function anchorFunction(name: 'person name' | 'field'): AnchorFunction {
  return name === 'person name' ? PERSON : FIELD;
}

const trimmed = (text: string, start: number, end: number): readonly [number, number] => {
  let [a, b] = [start, end];
  while (a < b && /[\s"']/.test(text[a] as string)) a++;
  while (b > a && /[\s"']/.test(text[b - 1] as string)) b--;
  return [a, b];
};

/** What was written into a field, whole. */
const FIELD: AnchorFunction = {
  words: [],
  at: () => undefined,
  cell: (text, start, end) => {
    const [a, b] = trimmed(text, start, end);
    const value = text.slice(a, b);
    if (
      b - a < 2 ||
      /^(?:no|none|nej|ingen|nein|keine?|n\/?a|null|undefined|false|true|yes|ja|-+|\?+|unknown|ukendt|okänd|unbekannt|nil|0)\.?$/i.test(
        value,
      )
    )
      return undefined;
    return { start: a, end: b, steps: [{ words: 'a filled field', steps: 0 }] };
  },
};

const firstNames = new Set(FIRST_NAMES);
const surnames = new Set(SURNAMES);
const titles = new Set(TITLES);
const notSurnames = new Set(NOT_SURNAMES);
const labels = new Set(NAME_LABELS);
const relations = new Set(RELATIONS);
const greetings = new Set(GREETINGS);
const farewells = new Set(FAREWELLS);

const TOKEN =
  /(?:\p{Lu}[\p{Ll}\p{M}]+(?:['’-]\p{L}[\p{Ll}\p{M}]*)*|(?:Mc|Mac|O['’]|D['’])\p{Lu}\p{Ll}+|\p{Lu}{2,}(?:-\p{Lu}{2,})*|\p{Lu}\.?)(?![\p{L}\p{N}@_])/uy;
const PARTICLE =
  /(?:von der|van der|van den|van de|von|van|zu|zum|zur|de la|de los|del|della|der|den|ter|ten|de|di|da|dos|das|du|le|la|af|av|bin|al|el)(?= )/uy;

function tokenAt(text: string, at: number): string | undefined {
  TOKEN.lastIndex = at;
  return TOKEN.exec(text)?.[0];
}

/** The run of name-like words from `at`: given names, initials, particles, surnames. */
function nameFrom(text: string, at: number): { end: number; words: string[] } {
  const words: string[] = [];
  let i = at;
  let end = at;
  while (words.length < 5) {
    const token = tokenAt(text, i);
    if (token === undefined) {
      if (words.length === 0) break;
      PARTICLE.lastIndex = i;
      const particle = PARTICLE.exec(text)?.[0];
      if (!particle) break;
      const next = tokenAt(text, i + particle.length + 1);
      if (!next || next.length < 2) break;
      i += particle.length + 1;
      continue;
    }
    const bare = token.toLowerCase();
    if (words.length > 0 && (notSurnames.has(bare) || labels.has(bare))) break;
    // What somebody has is told with an s that is no part of the name.
    const own = /['’]s$/.test(token) ? token.slice(0, -2) : token;
    words.push(own);
    end = i + own.length;
    if (own !== token) break;
    const gap = /^[ \u00a0]/.test(text.slice(end, end + 1)) ? 1 : 0;
    if (gap === 0) break;
    i = end + gap;
  }
  // An initial is no surname.
  while (words.length > 1 && /^\p{Lu}\.?$/u.test(words.at(-1) as string)) {
    end -= (words.pop() as string).length;
    while (/\s/.test(text[end - 1] ?? '')) end--;
  }
  return { end, words };
}

/** Before a colon, they name somebody. */
const FORM_LABELS = new Set(
  'name navn namn vorname nachname fornavn efternavn förnamn efternamn surname passenger passager passagerare fahrgast patient kunde kund customer kontaktperson ansprechpartner employee medarbejder medarbetare mitarbeiter signed underskrift underskrevet underskrivet unterschrift witness vidne vittne zeuge zeugin teacher guardian værge vårdnadshavare tenant lejer hyresgäst mieter mieterin applicant ansøger sökande bewerber bewerberin driver'.split(
    ' ',
  ),
);

function labelledName(text: string, end: number): FunctionHit | undefined {
  const colon = /^ ?: {1,4}/.exec(text.slice(end, end + 8));
  if (!colon) return undefined;
  const start = end + colon[0].length;
  const { end: last, words } = nameFrom(text, start);
  const [first = ''] = words;
  if (
    words.length < 2 ||
    first.length < 2 ||
    notSurnames.has(first.toLowerCase()) ||
    labels.has(first.toLowerCase())
  )
    return undefined;
  // A firm, a street or a ship goes on with the word for what it is.
  const next = /^[ -]?([\p{L}/&]+)/u.exec(text.slice(last, last + 24))?.[1]?.toLowerCase() ?? '';
  if (notSurnames.has(next) || /^(?:a\/s|&|aps|s\.a)$/.test(next)) return undefined;
  return { start, end: last, steps: [{ words: 'written like a name behind a label', steps: 1 }] };
}

const PERSON: AnchorFunction = {
  words: [
    ...new Set([...FIRST_NAMES, ...TITLES].filter((w) => w.length >= 3 && !notSurnames.has(w))),
    // A title of two letters is looked for with what stands behind it.
    ...FORM_LABELS,
    ...TITLES.filter((t) => t.length === 2).flatMap((t) => [`${t} `, `${t}.`]),
  ],
  at: (text, start, end) => {
    if (
      /[\p{L}\p{N}@_.\-/’']/u.test(text[start - 1] ?? ' ') &&
      !/(?:^|\s)\p{Lu}\.$/u.test(text.slice(Math.max(0, start - 3), start))
    )
      return undefined;
    const word = text.slice(start, end).toLowerCase().replace(/[ .]$/, '');
    if (titles.has(word)) return titled(text, start);
    if (FORM_LABELS.has(word)) return labelledName(text, end);
    const { end: last, words } = nameFrom(text, start);
    if (words.length === 0 || (words[0] as string).toLowerCase().split(/['’-]/)[0] !== word) {
      return undefined;
    }
    const steps: Step[] = [{ words: `“${words[0]}” is a first name`, steps: 0 }];
    if (words.length === 1) {
      const turned = turnedName(text, start, last);
      if (turned !== undefined)
        return {
          start: turned,
          end: last,
          steps: [...steps, { words: 'written surname first', steps: 2.2 }],
        };
      const before = ALSO_WORDS.has(word) ? undefined : leadingTo(text, start, last);
      if (before) return { start, end: last, steps: [...steps, { words: `after “${before}”`, steps: 2.5 }] };
      return undefined;
    }
    if (ALSO_WORDS.has(word)) steps.push({ words: `“${words[0]}” is a word of its own too`, steps: -2 });
    const surname = (words.at(-1) as string).toLowerCase();
    const parts = surname.split('-');
    if (parts.some((p) => surnames.has(p)))
      steps.push({ words: `“${words.at(-1)}” is a surname`, steps: 2.2 });
    else if (words.length >= 3 && firstNames.has((words[1] as string).toLowerCase()))
      steps.push({ words: 'two first names in a row', steps: 1.5 });
    else if (
      /(?:sen|sson|son|gaard|gård|berg|ström|strøm|lund|quist|qvist|holm|mann|feld|stein|hoff|ski|ska|wicz|ov|ova|ić|escu|oğlu|opoulos|sdóttir|sdottir)$/u.test(
        surname,
      )
    )
      steps.push({ words: `“${words.at(-1)}” is formed like a surname`, steps: 1 });
    if (words.every((w) => w === w.toUpperCase() && w.length > 1))
      steps.push({ words: 'all in capitals', steps: -1 });
    return { start, end: last, steps };
  },
  cell: (text, start, end) => {
    const [a, b] = trimmed(text, start, end);
    const value = text.slice(a, b);
    if (!/^(?:\p{Lu}[\p{L}\p{M}.'’-]*)(?:[ ,]+[\p{L}\p{M}.'’-]+){0,5}$/u.test(value)) return undefined;
    return { start: a, end: b, steps: [{ words: 'written like a name', steps: 0 }] };
  },
};

function titled(text: string, start: number): FunctionHit | undefined {
  let i = start;
  for (let n = 0; n < 4; n++) {
    const m = /^(\p{L}+)\.?(?: |\u00a0)+/u.exec(text.slice(i, i + 24));
    if (!m || !titles.has((m[1] as string).toLowerCase())) break;
    i += m[0].length;
  }
  if (i === start) return undefined;
  const { end, words } = nameFrom(text, i);
  const [first = ''] = words;
  if (
    words.length === 0 ||
    first.length < 3 ||
    notSurnames.has(first.toLowerCase()) ||
    labels.has(first.toLowerCase())
  )
    return undefined;
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
  const m = /(?:^|[\n\t;|"(:•*-] ?|\d[.)] )(\p{Lu}[\p{Ll}\p{M}]+(?:-\p{Lu}\p{Ll}+)?), $/u.exec(
    text.slice(Math.max(0, start - 40), start),
  );
  if (!m || !/^(?:$|[\s.;:,|")\n])/u.test(text.slice(end, end + 1))) return undefined;
  const surname = (m[1] as string).toLowerCase();
  if (notSurnames.has(surname) || labels.has(surname)) return undefined;
  // In a sentence, a word at its beginning and a comma are not enough.
  if (!surnames.has(surname) && !/^(?:$|[\n;\t|)"])/.test(text.slice(end, end + 1))) return undefined;
  return start - (m[1] as string).length - 2;
}
