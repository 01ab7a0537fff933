import type { AST } from '@eslint-community/regexpp';
import { allFoldsOf } from './code-shape.ts';
import { members } from './pattern-syntax.ts';

type Node = AST.Pattern | AST.Element | AST.Alternative;
type Side = 'start' | 'end';

/** What stands on either side of where a match begins or ends, by folded units alone. */
export interface PatternEdge {
  /** By the unit of the match that is next to it: 1 where there may be such. */
  readonly inside: Uint8Array;
  /** By the unit next to the match: 1 where there cannot be such. */
  readonly barred: Uint8Array;
}

export function edgeOf(ast: AST.Pattern, ignoreCase: boolean, side: Side): PatternEdge {
  const inside = new Uint8Array(256);
  if (addInside(ast, ignoreCase, side, inside)) inside.fill(1);
  // Beyond ASCII more letters are the same where case does not count.
  if (ignoreCase) inside.fill(1, 128).fill(1, 1, 2);
  return { inside, barred: barredAt(ast, side) };
}

/** Whether no match cuts a word or number in a text of ASCII. */
export function keepsWords(edges: readonly PatternEdge[]): boolean {
  return edges.every(({ inside, barred }) =>
    [/[A-Za-z]/, /\d/].every((kind) => {
      const units = Array.from({ length: 128 }, (_, u) => u).filter((u) => kind.test(String.fromCharCode(u)));
      return units.every((u) => inside[u] !== 1) || units.every((u) => barred[u] === 1);
    }),
  );
}

const inwards = (elements: readonly AST.Element[], side: Side) =>
  side === 'start' ? elements : elements.toReversed();

/** Adds the bytes that the node may have at its edge; whether it may also be nothing. */
function addInside(node: Node, ignoreCase: boolean, side: Side, inside: Uint8Array): boolean {
  switch (node.type) {
    case 'Pattern':
    case 'Group':
    case 'CapturingGroup':
      return node.alternatives.map((a) => addInside(a, ignoreCase, side, inside)).includes(true);
    case 'Alternative':
      return inwards(node.elements, side).every((e) => addInside(e, ignoreCase, side, inside));
    case 'Quantifier':
      return addInside(node.element, ignoreCase, side, inside) || node.min === 0;
    case 'Assertion':
      return true;
    case 'Backreference':
      inside.fill(1);
      return true;
    default: {
      for (const b of allFoldsOf(members(node, ignoreCase))) inside[b] = 1;
      return false;
    }
  }
}

/** The signs of ASCII of which the pattern says at its edge that they must not stand beyond it. */
function barredAt(node: Node, side: Side): Uint8Array {
  const barred = new Uint8Array(256);
  if (node.type === 'Alternative') {
    for (const e of inwards(node.elements, side)) {
      if (e.type === 'Assertion') addBarred(e, side, barred);
      else {
        if (e.type === 'Group' || e.type === 'CapturingGroup') join(barred, barredAt(e, side));
        break;
      }
    }
  } else if ('alternatives' in node && node.type !== 'Assertion') {
    const all = node.alternatives.map((a) => barredAt(a, side));
    for (let b = 0; b < 256; b++) if (all.every((one) => one[b] === 1)) barred[b] = 1;
  }
  return barred;
}

function addBarred(assertion: AST.Assertion, side: Side, barred: Uint8Array): void {
  const outwards = side === 'start' ? 'lookbehind' : 'lookahead';
  if (assertion.kind !== outwards || !assertion.negate) return;
  for (const { elements } of assertion.alternatives) {
    const [only] = elements;
    if (elements.length === 1 && only && ONE_SIGN.has(only.type)) join(barred, asciiOf(only.raw));
  }
}

const ONE_SIGN: ReadonlySet<string> = new Set(['Character', 'CharacterClass', 'CharacterSet']);
const known = new Map<string, Uint8Array>();

/** The signs of ASCII that are in a class. */
function asciiOf(raw: string): Uint8Array {
  let bytes = known.get(raw);
  if (!bytes) {
    const regex = new RegExp(`^${raw}$`, 'u');
    bytes = Uint8Array.from({ length: 128 }, (_, u) => (u > 1 && regex.test(String.fromCharCode(u)) ? 1 : 0));
    known.set(raw, bytes);
  }
  return bytes;
}

function join(bytes: Uint8Array, more: Uint8Array): void {
  for (const [b, has] of more.entries()) if (has === 1) bytes[b] = 1;
}
