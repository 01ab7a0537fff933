import type { AST } from '@eslint-community/regexpp';
import { foldOf, OTHER, shapeOf } from './code-shape.ts';
import { factsOf, isDigit, LONGEST, members } from './pattern-syntax.ts';

type Node = AST.Pattern | AST.Element | AST.Alternative;

/** Stands for anything behind the end of a shape. No text has this shape. */
const BEYOND = '\u0001';
/** A digit of the cluster, and one of another. */
const DIGIT = '0';
const OTHER_DIGIT = '9';
const DIGITS = [DIGIT, OTHER_DIGIT];

/** Whether a match may have its first digit in a cluster, by the shape of what stands around. */
export interface ShapeTest {
  readonly inText: (shape: string) => boolean;
  /** Where there are cells: nothing is known of what a match sees before and behind its own. */
  readonly inCells: (shape: string) => boolean;
}

/**
 * A test of the shape around a cluster of digits. The shape begins `margin` units before the cluster; what of a match is
 * not in it is taken to fit. `lead` is how many units of a match may stand before its first digit.
 */
export function shapeTest(ast: AST.Pattern, ignoreCase: boolean, lead: number, margin: number): ShapeTest {
  const beyond = BEYOND.repeat(Math.min(LONGEST, lengthToEnd(ast)));
  const test = (relaxed: Relaxed) => {
    // It begins before a digit of the cluster is over.
    const ways = [`(?=[^${BEYOND}]*${DIGIT})${relaxed.whole(ast)}`];
    if (lead > margin) ways.push(...[...relaxed.tails(ast)].map((tail) => `^${tail}`));
    const regex = new RegExp(ways.join('|'));
    return (shape: string) => regex.test(shape + beyond);
  };
  return { inText: test(new Relaxed(ignoreCase, true)), inCells: test(new Relaxed(ignoreCase, false)) };
}

/** A pattern as one of shapes: it matches the shape of whatever the pattern matches. */
class Relaxed {
  readonly #classes = new Map<string, string>();

  /** With `edges`, what must not stand before and behind is kept as far as shapes can tell it. */
  constructor(
    readonly ignoreCase: boolean,
    readonly edges: boolean,
  ) {}

  whole(node: Node): string {
    switch (node.type) {
      case 'Pattern':
      case 'Group':
      case 'CapturingGroup':
        return `(?:${[...new Set(node.alternatives.map((a) => this.whole(a)))].join('|')})`;
      case 'Alternative':
        return node.elements.map((e) => this.whole(e)).join('');
      case 'Quantifier': {
        const inner = this.whole(node.element);
        return inner === '' ? '' : `(?:${inner}){${node.min},${most(node)}}`;
      }
      case 'Assertion': {
        if ((node.kind !== 'lookahead' && node.kind !== 'lookbehind') || !node.negate || !this.edges)
          return '';
        const certain = node.alternatives.flatMap((a) => this.#certain(a) ?? []);
        return certain.length === 0
          ? ''
          : `(?${node.kind === 'lookahead' ? '' : '<'}!${[...new Set(certain)].join('|')})`;
      }
      case 'Backreference':
        return '[^]*';
      default:
        return this.#class(node);
    }
  }

  /** Patterns for what is left of a match from any place at or before its first digit on. */
  tails(node: Node): Set<string> {
    switch (node.type) {
      case 'Pattern':
      case 'Group':
      case 'CapturingGroup':
        return new Set(node.alternatives.flatMap((a) => [...this.tails(a)]));
      case 'Alternative': {
        const tails = new Set<string>();
        for (const [i, e] of node.elements.entries()) {
          const rest = node.elements
            .slice(i + 1)
            .map((r) => this.whole(r))
            .join('');
          for (const tail of this.tails(e)) tails.add(tail + rest);
          if (factsOf(e).digits > 0) break;
        }
        return tails;
      }
      case 'Quantifier': {
        const inner = this.whole(node.element);
        const again = inner === '' ? '' : `(?:${inner}){0,${most(node)}}`;
        return new Set([...this.tails(node.element)].map((tail) => tail + again));
      }
      case 'Backreference':
        return new Set(['[^]*']);
      default:
        // The first digit of the match is not before the shape.
        return isDigit(node) ? new Set() : new Set(['']);
    }
  }

  #class(node: AST.Element): string {
    const known = this.#classes.get(node.raw);
    if (known !== undefined) return known;
    const units = members(node, this.ignoreCase);
    let made = '[^]{1,2}';
    if (!units.some((u) => u > 0xffff)) {
      // Beyond Latin-1 a text's units are folded before their shape is taken.
      const shapes = new Set(units.flatMap((u) => [shapeOf(u), shapeOf(foldOf(u))]));
      if (shapes.has(DIGIT)) shapes.add(OTHER_DIGIT);
      made = `[${[...shapes].map(escaped).join('')}${escaped(BEYOND)}]${shapes.has(OTHER) ? '{1,2}' : ''}`;
    }
    this.#classes.set(node.raw, made);
    return made;
  }

  /** A pattern of shapes that only what the row matches can have; `undefined` where there is none. */
  #certain(node: AST.Alternative | AST.Element): string | undefined {
    switch (node.type) {
      case 'Alternative': {
        const row = node.elements.map((e) => this.#certain(e));
        return row.includes(undefined) ? undefined : row.join('');
      }
      case 'Quantifier': {
        const inner = this.#certain(node.element);
        return inner === undefined ? undefined : `(?:${inner}){${node.min},${most(node)}}`;
      }
      case 'Character':
      case 'CharacterSet':
      case 'CharacterClass': {
        const shapes = certainShapes(node);
        return shapes.length === 0 ? undefined : `[${shapes.map(escaped).join('')}]`;
      }
      default:
        return undefined;
    }
  }
}

/** Units that suffice to come to the end of a match, whichever way it took. */
function lengthToEnd(node: Node): number {
  switch (node.type) {
    case 'Pattern':
    case 'Group':
    case 'CapturingGroup':
      return Math.max(0, ...node.alternatives.map(lengthToEnd));
    case 'Alternative':
      return node.elements.reduce((sum, e) => sum + lengthToEnd(e), 0);
    case 'Quantifier':
      return node.min * lengthToEnd(node.element);
    case 'Assertion':
    case 'Backreference':
      return 0;
    default:
      return 2;
  }
}

const most = (node: AST.Quantifier) => (node.max === Infinity ? '' : String(node.max));
const escaped = (c: string) => `\\u${c.charCodeAt(0).toString(16).padStart(4, '0')}`;
/** A shape that only one unit has. */
const isSign = (unit: number) => unit < 128 && unit > 1 && !/[0-9A-Za-z \t]/.test(String.fromCharCode(unit));

/** Shapes of which every unit is one of the class. */
function certainShapes(
  node: AST.CharacterClassElement | AST.CharacterClass | AST.CharacterSet,
): readonly string[] {
  switch (node.type) {
    case 'Character':
      return isSign(node.value) ? [String.fromCharCode(node.value)] : [];
    case 'CharacterClassRange': {
      const { min, max } = node;
      if (min.value <= 48 && max.value >= 57) return DIGITS;
      return Array.from({ length: Math.min(128, max.value + 1) }, (_, u) => u)
        .filter((u) => u >= min.value && isSign(u))
        .map((u) => String.fromCharCode(u));
    }
    case 'CharacterSet':
      if (node.kind === 'digit') return node.negate ? [] : DIGITS;
      if (node.kind === 'word') return node.negate ? [] : [...DIGITS, '_'];
      if (node.kind !== 'property' || node.negate || node.key !== 'General_Category') return [];
      if (/^(?:L|Letter)$/.test(node.value ?? '')) return ['A', 'a'];
      return /^(?:N|Nd|Number|Decimal_Number)$/.test(node.value ?? '') ? DIGITS : [];
    case 'CharacterClass':
      return node.negate
        ? []
        : [...new Set(node.elements.flatMap((e) => certainShapes(e as AST.CharacterClassElement)))];
    default:
      return [];
  }
}
