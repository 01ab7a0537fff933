import { RegExpParser, type AST } from '@eslint-community/regexpp';
import { shapeOf } from './code-shape.ts';

/** The longest match that is looked for, in UTF-16 units. */
export const LONGEST = 1024;

/** Of a part of a pattern, in UTF-16 units: how long it is, and where its digits stand. */
export interface Facts {
  readonly min: number;
  readonly max: number;
  readonly digits: number;
  readonly lead: number;
  readonly trail: number;
  readonly gap: number;
}

export function parse(pattern: string): AST.Pattern {
  return new RegExpParser({ ecmaVersion: 2022 }).parsePattern(pattern, 0, pattern.length, {
    unicode: true,
    unicodeSets: false,
  });
}

const NONE: Facts = { min: 0, max: 0, digits: 0, lead: 0, trail: 0, gap: 0 };

export function factsOf(node: AST.Pattern | AST.Element | AST.Alternative): Facts {
  switch (node.type) {
    case 'Pattern':
    case 'Group':
    case 'CapturingGroup':
      return node.alternatives.map(factsOf).reduce((a, b) => ({
        min: Math.min(a.min, b.min),
        max: Math.max(a.max, b.max),
        digits: Math.min(a.digits, b.digits),
        lead: Math.max(a.lead, b.lead),
        trail: Math.max(a.trail, b.trail),
        gap: Math.max(a.gap, b.gap),
      }));
    case 'Alternative':
      return node.elements.map(factsOf).reduce(inARow, NONE);
    case 'Quantifier': {
      const e = factsOf(node.element);
      const max = e.max === 0 ? 0 : e.max * node.max;
      if (e.digits === 0 || node.min === 0)
        return { ...NONE, min: e.min * node.min, max, lead: max, trail: max };
      const again = node.max > 1 ? e.trail + e.lead : 0;
      return { ...e, min: e.min * node.min, max, digits: e.digits * node.min, gap: Math.max(e.gap, again) };
    }
    case 'Assertion': {
      if (node.kind !== 'lookahead' || node.negate) return NONE;
      // What must follow is part of the match, or right behind it.
      const ahead = node.alternatives.map(factsOf);
      if (ahead.some((a) => a.digits === 0)) return NONE;
      const lead = Math.max(...ahead.map((a) => a.lead));
      return { ...NONE, digits: 1, lead, trail: Infinity, gap: Infinity };
    }
    case 'Backreference': {
      const max = Math.max(...[node.resolved].flat().map((group) => factsOf(group).max));
      return { min: 0, max, digits: 0, lead: max, trail: max, gap: 0 };
    }
    default: {
      const digit = isDigit(node);
      // A class with `u` may take a pair of surrogates.
      const max = node.type === 'Character' ? (node.value > 0xffff ? 2 : 1) : digit || narrow(node) ? 1 : 2;
      return digit
        ? { min: 1, max: 1, digits: 1, lead: 0, trail: 0, gap: 0 }
        : { min: 1, max, digits: 0, lead: max, trail: max, gap: 0 };
    }
  }
}

function inARow(a: Facts, b: Facts): Facts {
  const gap =
    a.digits > 0 && b.digits > 0 ? Math.max(a.gap, b.gap, a.trail + b.lead) : Math.max(a.gap, b.gap);
  return {
    min: a.min + b.min,
    max: a.max + b.max,
    digits: a.digits + b.digits,
    lead: a.digits > 0 ? a.lead : a.max + (b.digits > 0 ? b.lead : b.max),
    trail: b.digits > 0 ? b.trail : b.max + (a.digits > 0 ? a.trail : a.max),
    gap,
  };
}

function narrow(node: AST.Element): boolean {
  if (node.type === 'CharacterSet')
    return node.kind === 'digit' || node.kind === 'word' || node.kind === 'space';
  return node.type === 'CharacterClass' && !node.negate && members(node, false).every((u) => u <= 0xffff);
}

export function isDigit(node: AST.Element): boolean {
  if (node.type === 'Character') return node.value >= 48 && node.value <= 57;
  if (node.type === 'CharacterSet') return node.kind === 'digit' && !node.negate;
  if (node.type !== 'CharacterClass' || node.negate) return false;
  return node.elements.every((e) => {
    if (e.type === 'Character') return e.value >= 48 && e.value <= 57;
    if (e.type === 'CharacterClassRange') return e.min.value >= 48 && e.max.value <= 57;
    return e.type === 'CharacterSet' && e.kind === 'digit' && !e.negate;
  });
}

const MOST_REMEMBERED = 5000;
const remembered = [new Map<string, readonly number[]>(), new Map<string, readonly number[]>()] as const;

/** Code units a class or set may take; those above Latin-1 stand for their kind. Undefined: anything. */
export function members(
  node: AST.Element | AST.CharacterClassElement,
  ignoreCase: boolean,
): readonly number[] {
  const known = remembered[ignoreCase ? 1 : 0];
  // A full stop in a class is another one than outside it.
  const key = `${node.type} ${node.raw}`;
  let units = known.get(key);
  if (!units) {
    if (known.size >= MOST_REMEMBERED) known.clear();
    known.set(key, (units = listMembers(node, ignoreCase)));
  }
  return units;
}

function listMembers(node: AST.Element | AST.CharacterClassElement, ignoreCase: boolean): readonly number[] {
  const set = new Set<number>();
  const add = (u: number) => {
    set.add(u);
    if (ignoreCase) for (const other of caseWays(u)) set.add(other);
  };
  const all = () => {
    for (let u = 0; u < 256; u++) set.add(u);
    for (const u of SAMPLES) set.add(u);
  };
  switch (node.type) {
    case 'Character':
      add(node.value);
      break;
    case 'CharacterClassRange':
      for (let u = node.min.value; u <= Math.min(node.max.value, 0x2ff); u++) add(u);
      if (node.max.value > 0x2ff) for (const u of SAMPLES) set.add(u);
      break;
    case 'CharacterSet':
      if (node.kind === 'digit' && !node.negate) for (let u = 48; u < 58; u++) set.add(u);
      else if (node.kind === 'word' && !node.negate) {
        for (let u = 0; u < 128; u++) if (/\w/.test(String.fromCharCode(u))) add(u);
      } else if (node.kind === 'space' && !node.negate) {
        for (const u of [9, 10, 11, 12, 13, 32, 0xa0, 0x2003, 0x2028]) set.add(u);
      } else if (node.kind === 'property' && !node.negate) {
        const test = new RegExp(node.raw, 'u');
        for (let u = 0; u < 0x300; u++) if (test.test(String.fromCharCode(u))) add(u);
        for (const u of ignoreCase ? SAMPLES : samplesOf(test)) set.add(u);
      } else all();
      break;
    case 'CharacterClass':
      if (node.negate) {
        const not = new Set(
          node.elements
            // What is known only as “all but” may be anything.
            .filter((e) => e.type !== 'CharacterSet' || !e.negate)
            .flatMap((e) => members(e as AST.CharacterClassElement, ignoreCase)),
        );
        for (let u = 0; u < 256; u++) if (!not.has(u)) set.add(u);
        for (const u of SAMPLES) set.add(u);
      } else
        for (const e of node.elements)
          for (const u of members(e as AST.CharacterClassElement, ignoreCase)) set.add(u);
      break;
    default:
      all();
  }
  return [...set];
}
/** Units that are the same as one of Latin-1, where case does not count, and that neither way of writing it gives. */
const MORE_WAYS: Readonly<Record<string, readonly number[]>> = {
  s: [0x17f],
  k: [0x212a],
  å: [0x212b],
  ß: [0x1e9e],
  µ: [0x3bc, 0x39c],
};

function caseWays(unit: number): readonly number[] {
  const c = String.fromCodePoint(unit);
  const lower = c.toUpperCase().toLowerCase();
  const ways = [c.toLowerCase(), c.toUpperCase(), lower].flatMap((way) =>
    way.length === 1 ? way.charCodeAt(0) : [],
  );
  return [...ways, ...(MORE_WAYS[lower] ?? []), ...(MORE_WAYS[c.toLowerCase()] ?? [])];
}

/** One unit of each kind beyond Latin-1: capital, letter, blank, sign, half of a pair. */
export const SAMPLES = [0x100, 0x101, 0x2003, 0x2019, 0xd83d];

const sampled = new Map<string, readonly number[]>();

/** The samples that stand for something a property has beyond Latin-1. */
function samplesOf(property: RegExp): readonly number[] {
  let samples = sampled.get(property.source);
  if (!samples) {
    // What is beyond the first plane is two halves of a pair, of any kind.
    const shapes = new Set<string>([shapeOf(0xd83d)]);
    for (let u = 0x100; u < 0x10000; u++) if (property.test(String.fromCharCode(u))) shapes.add(shapeOf(u));
    samples = SAMPLES.filter((u) => shapes.has(shapeOf(u)));
    sampled.set(property.source, samples);
  }
  return samples;
}
