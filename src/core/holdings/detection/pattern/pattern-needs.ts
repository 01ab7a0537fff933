import type { AST } from '@eslint-community/regexpp';
import { allFoldsOf } from './code-shape.ts';
import { shapeTest, type ShapeTest } from './pattern-shape.ts';
import { edgeOf, keepsWords, type PatternEdge } from './pattern-edge.ts';
import { factsOf, LONGEST, members, parse, type Facts } from './pattern-syntax.ts';

/** Units of text on either side of a cluster of digits whose shape is looked at. */
export const SHAPE_MARGIN = 8;
/** The farthest a lookaround is let look. */
const FARTHEST_LOOK = 256;
const MOST_PREFIXES = 4000;

/**
 * What must be in a text for a pattern to match there, derived from the pattern itself: the engine looks at a place
 * only where that is found.
 */
export type Need =
  /** A word that begins with one of these; folded to lower case, at least three units each. */
  | {
      readonly by: 'word';
      readonly prefixes: readonly string[];
      /** Units from the word's beginning to the latest beginning of a match: more than 0 where the word only leads to it. */
      readonly reach: number;
      /** Most units of a match before the word. */
      readonly lead: number;
      /** A text that stands around the word, as it is, which begins so many units before it. */
      readonly within?: { readonly text: string; readonly at: number };
    }
  /** So many digits; the first at most `lead` units into the match, the last at most `trail` before its end. */
  | {
      readonly by: 'digits';
      readonly least: number;
      readonly lead: number;
      /** The bytes that a match may have before its first digit. */
      readonly run: Uint8Array;
      readonly trail: number;
      /** Most units between two digits of a match; `Infinity` where the pattern leaves it open. */
      readonly gap: number;
      /** Bytes that may stand between two digits. */
      readonly between: ReadonlySet<number>;
      readonly mayFit: ShapeTest;
    }
  /** A rare sign, with the bytes that may stand on either side of it. */
  | {
      readonly by: 'sign';
      readonly byte: number;
      readonly before: Uint8Array;
      readonly after: Uint8Array;
      readonly lead: number;
      /** The bytes that a match may have before the sign. */
      readonly run: Uint8Array;
    }
  /** At least so many capitals at the beginning of a word. */
  | { readonly by: 'capitals'; readonly least: number }
  /** A text that stands in every match. */
  | { readonly by: 'literal'; readonly text: string; readonly ignoreCase: boolean; readonly lead: number }
  /** Nothing rare: the whole text has to be read with it. */
  | { readonly by: 'all' };

export interface PatternNeeds {
  readonly need: Need;
  readonly start: PatternEdge;
  /** No match cuts a word or number in a text of ASCII. */
  readonly keepsWords: boolean;
  /** In UTF-16 units; at most `LONGEST`. */
  readonly longest: number;
  /** How far lookarounds see. */
  readonly margin: number;
}

/** Throws a SyntaxError where the pattern is none. */
export function needsOf(pattern: string, ignoreCase: boolean): PatternNeeds {
  const ast = parse(pattern);
  const facts = factsOf(ast);
  const longest = Math.min(LONGEST, facts.max);
  const margin = Math.min(FARTHEST_LOOK, lookOf(ast)) + 1;
  const start = edgeOf(ast, ignoreCase, 'start');
  return {
    need: chooseNeed(ast, facts, ignoreCase),
    start,
    keepsWords: keepsWords([start, edgeOf(ast, ignoreCase, 'end')]),
    longest,
    margin,
  };
}

/** The alternatives of a pattern, as patterns. */
export function branchesOf(pattern: string): readonly string[] {
  const ast = parse(pattern);
  return ast.alternatives.map((a) => a.raw);
}

function chooseNeed(ast: AST.Pattern, facts: Facts, ignoreCase: boolean): Need {
  const only = ast.alternatives.length === 1 ? ast.alternatives[0] : undefined;
  const bounded = ast.alternatives.every(beginsWord);
  const inner = only && innerWordNeed(only.elements, ignoreCase);
  if (bounded) {
    const prefixes = prefixesOf(ast.alternatives, ignoreCase);
    if (prefixes && prefixes.every((p) => p.length >= 3 && isWordy(p))) {
      const first: Need = { by: 'word', prefixes, reach: 0, lead: 0 };
      return inner && frequencyOf(inner.prefixes) < frequencyOf(prefixes) ? inner : first;
    }
  }
  // Digits are frequent: a word that is not says more.
  if (inner && frequencyOf(inner.prefixes) < RARELY) return inner;
  const led = only && leadNeed(only.elements, ignoreCase);
  if (led) return led;
  const sign = only && !(facts.digits > 1 && facts.lead <= 8) && signNeed(only.elements, ignoreCase);
  if (sign) return sign;
  if (facts.digits > 0)
    return {
      by: 'digits',
      least: facts.digits,
      lead: Math.min(LONGEST, facts.lead),
      run: leadBytes(ast, ignoreCase),
      trail: Math.min(LONGEST, facts.trail),
      gap: facts.gap,
      between: betweenOf(ast, ignoreCase),
      mayFit: shapeTest(ast, ignoreCase, facts.lead, SHAPE_MARGIN),
    };
  if (bounded && !ignoreCase) {
    const least = Math.min(...ast.alternatives.map((a) => leadingCapitals(a.elements).count));
    if (least >= 4) return { by: 'capitals', least };
  }
  const literal = only && literalNeed(only.elements);
  const word = literal && wordIn(literal, ignoreCase);
  if (word) return word;
  if (literal)
    return {
      by: 'literal',
      ignoreCase,
      ...literal,
      text: ignoreCase ? literal.text.toLowerCase() : literal.text,
    };
  return { by: 'all' };
}

/** Bytes that any element can take. */
function bytesOf(node: AST.Pattern | AST.Element | AST.Alternative, ignoreCase: boolean): Set<number> {
  const bytes = new Set<number>();
  const walk = (n: AST.Pattern | AST.Element | AST.Alternative): void => {
    if (n.type === 'Pattern' || n.type === 'Group' || n.type === 'CapturingGroup')
      n.alternatives.forEach(walk);
    else if (n.type === 'Alternative') n.elements.forEach(walk);
    else if (n.type === 'Quantifier') walk(n.element);
    else if (n.type === 'Backreference') for (let b = 0; b < 256; b++) bytes.add(b);
    else if (n.type !== 'Assertion') {
      for (const b of allFoldsOf(members(n, ignoreCase))) bytes.add(b);
    }
  };
  walk(node);
  return bytes;
}

/** The bytes that may stand before the digit that a match cannot do without, the first of them. */
function leadBytes(node: AST.Pattern | AST.Element | AST.Alternative, ignoreCase: boolean): Uint8Array {
  const bytes = new Uint8Array(256);
  const addAll = (n: AST.Element) => {
    for (const b of bytesOf(n, ignoreCase)) bytes[b] = 1;
  };
  const walk = (n: AST.Pattern | AST.Element | AST.Alternative): void => {
    if (n.type === 'Alternative') {
      const first = n.elements.findIndex((e) => factsOf(e).digits > 0);
      n.elements.slice(0, first).forEach(addAll);
      n.elements.slice(first, first + 1).forEach(walk);
    } else if (n.type === 'Quantifier') walk(n.element);
    else if ('alternatives' in n) n.alternatives.forEach(walk);
  };
  walk(node);
  return bytes;
}

/** Bytes other than digits that any element can take. */
function betweenOf(ast: AST.Pattern, ignoreCase: boolean): Set<number> {
  const bytes = bytesOf(ast, ignoreCase);
  for (let b = 48; b < 58; b++) bytes.delete(b);
  return bytes;
}

function lookOf(node: AST.Pattern | AST.Element | AST.Alternative): number {
  switch (node.type) {
    case 'Pattern':
    case 'Group':
    case 'CapturingGroup':
      return Math.max(...node.alternatives.map(lookOf));
    case 'Alternative':
      return Math.max(0, ...node.elements.map(lookOf));
    case 'Quantifier':
      return lookOf(node.element);
    case 'Assertion':
      return node.kind === 'lookahead' || node.kind === 'lookbehind'
        ? Math.max(...node.alternatives.map((a) => factsOf(a).max + lookOf(a)))
        : 1;
    default:
      return 0;
  }
}

/** Whether a match can only begin where no letter of ASCII stands before it. */
function beginsWord(alternative: AST.Alternative): boolean {
  for (const e of alternative.elements) {
    if (e.type === 'Assertion') {
      if (e.kind === 'lookbehind' && e.negate)
        return e.alternatives.some((a) => {
          const [one] = a.elements;
          if (a.elements.length !== 1 || !one || one.type === 'Assertion') return false;
          const set = new Set(members(one, false));
          return [97, 109, 122, 65, 77, 90].every((u) => set.has(u));
        });
      continue;
    }
    if ((e.type === 'Group' || e.type === 'CapturingGroup') && e.alternatives.length > 0)
      return e.alternatives.every(beginsWord);
    return false;
  }
  return false;
}

/** Whether a word of two letters or more begins so. */
function isWordy(prefix: string): boolean {
  return /^\p{L}{2}/u.test(prefix);
}

/** Every text a match can begin with, folded to lower case, cut at eight units; `undefined` when there are too many. */
function prefixesOf(alternatives: readonly AST.Alternative[], ignoreCase: boolean): string[] | undefined {
  const out = new Set<string>();
  for (const a of alternatives) {
    const some = prefixesOfRow(a.elements, ignoreCase);
    if (!some) return undefined;
    for (const { text } of some) out.add(text);
    if (out.size > MOST_PREFIXES) return undefined;
  }
  return [...out];
}

interface Prefix {
  readonly text: string;
  readonly open: boolean;
}

function prefixesOfRow(elements: readonly AST.Element[], ignoreCase: boolean): Prefix[] | undefined {
  let row: Prefix[] = [{ text: '', open: true }];
  for (const e of elements) {
    if (e.type === 'Assertion') continue;
    const next = prefixesOfElement(e, ignoreCase);
    const grown: Prefix[] = [];
    for (const p of row) {
      if (!p.open || p.text.length >= 8) grown.push({ ...p, open: false });
      else if (!next) grown.push({ ...p, open: false });
      else for (const n of next) grown.push({ text: (p.text + n.text).slice(0, 8), open: n.open });
      if (grown.length > MOST_PREFIXES) return row.map((r) => ({ ...r, open: false }));
    }
    row = grown;
    if (row.every((p) => !p.open)) break;
  }
  return row;
}

function prefixesOfElement(e: AST.Element, ignoreCase: boolean): Prefix[] | undefined {
  if (e.type === 'Group' || e.type === 'CapturingGroup') {
    const all = e.alternatives.map((a) => prefixesOfRow(a.elements, ignoreCase));
    return all.every((a) => a !== undefined) ? all.flat() : undefined;
  }
  if (e.type === 'Quantifier') {
    if (e.min === 0) return e.max === 1 ? withNothing(prefixesOfElement(e.element, ignoreCase)) : undefined;
    const one = prefixesOfElement(e.element, ignoreCase);
    if (!one) return undefined;
    return e.min === 1 && e.max === 1 ? one : one.map((p) => ({ ...p, open: false }));
  }
  if (e.type === 'Character' || e.type === 'CharacterClass') {
    if (e.type === 'CharacterClass' && e.negate) return undefined;
    const units = members(e, ignoreCase);
    if (units.length > 12 || units.some((u) => u > 0xffff)) return undefined;
    return [...new Set(units.map((u) => String.fromCharCode(u).toLowerCase()))].map((text) => ({
      text,
      open: true,
    }));
  }
  return undefined;
}

function withNothing(p: Prefix[] | undefined): Prefix[] | undefined {
  return p && [...p, { text: '', open: true }];
}

const RARELY = 8 ** -3.5;
/** How often words begin so, by their length alone: no more than a measure to compare by. */
const frequencyOf = (prefixes: readonly string[]) => prefixes.reduce((sum, p) => sum + 8 ** -p.length, 0);
/** The farthest into a match that a word is looked for. */
const FARTHEST_WORD = 64;

/** The words that stand farther on in every match, each where a word begins. */
function innerWordNeed(
  elements: readonly AST.Element[],
  ignoreCase: boolean,
): Extract<Need, { by: 'word' }> | undefined {
  let best: Extract<Need, { by: 'word' }> | undefined;
  let lead = 0;
  for (const [i, e] of elements.entries()) {
    if (i > 0 && lead <= FARTHEST_WORD && endsWithoutLetter(elements.slice(0, i))) {
      const row = prefixesOfRow(elements.slice(i), ignoreCase);
      const prefixes = row && [...new Set(row.map((p) => p.text))];
      if (
        prefixes?.every((p) => p.length >= 3 && isWordy(p)) &&
        (!best || frequencyOf(prefixes) < frequencyOf(best.prefixes))
      )
        best = { by: 'word', prefixes, reach: 0, lead };
    }
    lead += factsOf(e).max;
  }
  return best;
}

/** Whether what the elements match can only end with a sign of ASCII that is no letter. */
function endsWithoutLetter(elements: readonly AST.Element[]): boolean {
  for (const e of elements.toReversed()) {
    if (e.type === 'Assertion') continue;
    const [element, least] = e.type === 'Quantifier' ? [e.element, e.min] : [e, 1];
    if (
      element.type !== 'Character' &&
      element.type !== 'CharacterClass' &&
      element.type !== 'CharacterSet'
    ) {
      const rows =
        element.type === 'Group' || element.type === 'CapturingGroup'
          ? element.alternatives.map((a) => a.elements)
          : [];
      if (rows.length === 0 || least === 0) return false;
      return rows.every(endsWithoutLetter);
    }
    if (members(element, false).some((u) => u > 127 || /[A-Za-z]/.test(String.fromCharCode(u)))) return false;
    if (least > 0) return true;
  }
  return false;
}

/** The words of a lookbehind that the pattern begins with. */
function leadNeed(elements: readonly AST.Element[], ignoreCase: boolean): Need | undefined {
  const [first] = elements;
  if (first?.type !== 'Assertion' || first.kind !== 'lookbehind' || first.negate) return undefined;
  if (!first.alternatives.every(beginsWord)) return undefined;
  const prefixes = prefixesOf(first.alternatives, ignoreCase);
  const reach = Math.max(...first.alternatives.map((a) => factsOf(a).max));
  if (!prefixes || reach > FARTHEST_LOOK || !prefixes.every((p) => p.length >= 3 && isWordy(p)))
    return undefined;
  return { by: 'word', prefixes, reach, lead: 0 };
}

/** Signs that are rare enough in writing to look at each. */
const RARE = new Set([...'@<>{}[]|\\^~`#$%&*+=_/:'].map((c) => c.charCodeAt(0)));

function signNeed(elements: readonly AST.Element[], ignoreCase: boolean): Need | undefined {
  let lead = 0;
  for (const [i, e] of elements.entries()) {
    const inner = innerRow(e);
    const within = inner && signNeed(inner, ignoreCase);
    if (within?.by === 'sign') {
      // At the edge of the group, what stands outside may come next to it.
      const last = inner?.at(-1);
      const after =
        last?.type === 'Character' && last.value === within.byte ? new Uint8Array(256).fill(1) : within.after;
      const run = runOf(elements.slice(0, i), ignoreCase);
      for (let b = 0; b < 256; b++) if (within.run[b] === 1) run[b] = 1;
      return { ...within, after, run, lead: Math.min(LONGEST, lead + within.lead) };
    }
    if (e.type === 'Character' && RARE.has(e.value)) {
      return {
        by: 'sign',
        byte: e.value,
        before: edge(elements.slice(0, i).reverse(), ignoreCase),
        after: edge(elements.slice(i + 1), ignoreCase),
        lead: Math.min(LONGEST, lead),
        run: runOf(elements.slice(0, i), ignoreCase),
      };
    }
    lead += factsOf(e).max;
  }
  return undefined;
}

function runOf(elements: readonly AST.Element[], ignoreCase: boolean): Uint8Array {
  const run = new Uint8Array(256);
  for (const e of elements) for (const b of bytesOf(e, ignoreCase)) run[b] = 1;
  return run;
}

/** The elements of a group that has to be there at least once, and in one way only. */
function innerRow(e: AST.Element): readonly AST.Element[] | undefined {
  const group = e.type === 'Quantifier' && e.min > 0 ? e.element : e;
  if (group.type !== 'Group' && group.type !== 'CapturingGroup') return undefined;
  const [only] = group.alternatives;
  const first = only?.elements[0];
  // A sign at the very beginning would have what stands outside before it.
  if (group.alternatives.length !== 1 || !only || first?.type === 'Character' || first?.type === 'Assertion')
    return undefined;
  return only.elements;
}

/** The bytes that may stand next, going outwards through `elements`. */
function edge(elements: readonly AST.Element[], ignoreCase: boolean): Uint8Array {
  const bytes = new Uint8Array(256);
  for (const e of elements) {
    if (e.type === 'Assertion') continue;
    const inner = e.type === 'Quantifier' ? e.element : e;
    if (
      inner.type === 'Group' ||
      inner.type === 'CapturingGroup' ||
      inner.type === 'Backreference' ||
      inner.type === 'Assertion'
    )
      return bytes.fill(1);
    for (const b of allFoldsOf(members(inner, ignoreCase))) bytes[b] = 1;
    if (e.type !== 'Quantifier' || e.min > 0) return bytes;
  }
  return bytes.fill(1);
}

function leadingCapitals(elements: readonly AST.Element[]): {
  readonly count: number;
  readonly whole: boolean;
} {
  let count = 0;
  for (const e of elements) {
    if (e.type === 'Assertion') continue;
    if (e.type === 'Group' || e.type === 'CapturingGroup') {
      const inner = e.alternatives.map((a) => leadingCapitals(a.elements));
      count += Math.min(...inner.map((x) => x.count));
      if (inner.every((x) => x.whole)) continue;
      break;
    }
    const inner = e.type === 'Quantifier' ? e.element : e;
    if (inner.type !== 'Character' && inner.type !== 'CharacterClass') break;
    if (!members(inner, false).every((u) => u >= 65 && u <= 90)) break;
    count += e.type === 'Quantifier' ? e.min : 1;
    if (e.type === 'Quantifier' && e.min !== e.max) break;
  }
  return { count, whole: count > 0 };
}

function literalNeed(elements: readonly AST.Element[]): { text: string; lead: number } | undefined {
  let best: { text: string; lead: number } | undefined;
  let run = '';
  let runLead = 0;
  let lead = 0;
  const end = () => {
    if (run.length >= 3 && run.length > (best?.text.length ?? 0))
      best = { text: run, lead: Math.min(LONGEST, runLead) };
    run = '';
  };
  for (const e of elements) {
    if (e.type === 'Assertion') continue;
    const repeated = e.type === 'Quantifier' && e.min === e.max && e.element.type === 'Character' ? e.min : 0;
    const one =
      e.type === 'Character'
        ? e
        : e.type === 'Quantifier' && e.element.type === 'Character'
          ? e.element
          : undefined;
    if (one && one.value <= 0xffff && (e.type === 'Character' || repeated > 0)) {
      if (run === '') runLead = lead;
      run += String.fromCharCode(one.value).repeat(repeated || 1);
    } else end();
    lead += factsOf(e).max;
  }
  end();
  return best;
}

/** A word that begins within a text is found with all other words. */
function wordIn({ text, lead }: { text: string; lead: number }, ignoreCase: boolean): Need | undefined {
  const at = /(?<=[\0-@[-`{-\x7f])[A-Za-z]{3}/.exec(text)?.index;
  const prefix = at === undefined ? '' : text.slice(at, at + 8).toLowerCase();
  // Two letters beyond ASCII are the same as these where case does not count.
  if (at === undefined || (ignoreCase && /[ks]/.test(prefix))) return undefined;
  const within = ignoreCase ? {} : { within: { text, at } };
  return { by: 'word', prefixes: [prefix], reach: 0, lead: lead + at, ...within };
}
