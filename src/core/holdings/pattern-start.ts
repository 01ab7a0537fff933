import type { AST } from '@eslint-community/regexpp';
import { foldOf } from './code-shape.ts';
import { members } from './pattern-syntax.ts';

type Node = AST.Pattern | AST.Element | AST.Alternative;

/** Where a match of a pattern may begin, by folded units alone. */
export interface PatternStart {
  /** By the unit that it begins with: 1 where it may. */
  readonly first: Uint8Array;
  /** By the unit before it: 1 where none may begin behind it. */
  readonly barred: Uint8Array;
}

export function startOf(ast: AST.Pattern, ignoreCase: boolean): PatternStart {
  const first = new Uint8Array(256);
  if (addFirst(ast, ignoreCase, first)) first.fill(1);
  // Beyond ASCII more letters are the same where case does not count.
  if (ignoreCase) first.fill(1, 128).fill(1, 1, 2);
  return { first, barred: barredBefore(ast) };
}

/** Adds the bytes that the node may begin with; whether it may also be nothing. */
function addFirst(node: Node, ignoreCase: boolean, first: Uint8Array): boolean {
  switch (node.type) {
    case 'Pattern':
    case 'Group':
    case 'CapturingGroup':
      return node.alternatives.map((a) => addFirst(a, ignoreCase, first)).includes(true);
    case 'Alternative':
      return node.elements.every((e) => addFirst(e, ignoreCase, first));
    case 'Quantifier':
      return addFirst(node.element, ignoreCase, first) || node.min === 0;
    case 'Assertion':
      return true;
    case 'Backreference':
      first.fill(1);
      return true;
    default: {
      const units = members(node, ignoreCase);
      if (units.some((u) => u > 255)) first.fill(1, 0xe0, 0xf7);
      for (const u of units) first[u > 0xffff ? 1 : foldOf(u)] = 1;
      return false;
    }
  }
}

/** The signs of ASCII of which the pattern says at its beginning that they must not stand before it. */
function barredBefore(node: Node): Uint8Array {
  const barred = new Uint8Array(256);
  switch (node.type) {
    case 'Pattern':
    case 'Group':
    case 'CapturingGroup': {
      const all = node.alternatives.map(barredBefore);
      for (let b = 0; b < 256; b++) if (all.every((one) => one[b] === 1)) barred[b] = 1;
      break;
    }
    case 'Alternative':
      for (const e of node.elements) {
        if (e.type === 'Assertion') addBarred(e, barred);
        else {
          if (e.type === 'Group' || e.type === 'CapturingGroup') join(barred, barredBefore(e));
          break;
        }
      }
      break;
  }
  return barred;
}

function addBarred(assertion: AST.Assertion, barred: Uint8Array): void {
  if (assertion.kind !== 'lookbehind' || !assertion.negate) return;
  for (const { elements } of assertion.alternatives) {
    const [only] = elements;
    if (elements.length !== 1 || !only || !ONE_SIGN.has(only.type)) continue;
    join(barred, asciiOf(only.raw));
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
  for (let b = 0; b < 256; b++) if (more[b] === 1) bytes[b] = 1;
}
