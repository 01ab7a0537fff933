import type { AST } from '@eslint-community/regexpp';
import { parse } from './pattern-syntax.ts';

/** Alternatives beyond which a group that repeats is a list of words and no pattern. */
const LONG_LIST = 40;
/** Repeats from which on that is a risk. */
const MANY = 16;
/** Ways of dividing a text among parts of a pattern that are few, whatever the text is. */
const FEW_WAYS = 100_000;

/**
 * Why a pattern is refused for its shape alone, in words: what no check can vouch for. `undefined` where its shape is no
 * reason. Throws a SyntaxError for what is no pattern.
 */
export function hazardOf(pattern: string): string | undefined {
  let found: string | undefined;
  walk(parse(pattern), (node) => {
    if (node.type === 'Backreference')
      found ??= 'It looks back at what it has matched, which can take for ever. Say it without \\1.';
    if (node.type === 'Quantifier' && node.max > MANY) {
      const list = longestList(node.element);
      if (list > LONG_LIST)
        found ??= `It repeats a list of ${list} alternatives, which can take for ever. Look for the words one by one.`;
    }
  });
  return found;
}

/**
 * Whether a pattern ends soon on every text, by its shape alone: nothing in it repeats without a bound or within what
 * repeats, and what varies in length can be divided in few ways.
 */
export function endsSoon(pattern: string): boolean {
  let ways = 1;
  let tame = true;
  walk(parse(pattern), (node, within) => {
    if (node.type === 'Backreference') tame = false;
    if (node.type !== 'Quantifier' || node.max === node.min) return;
    if (node.max === Infinity || within > 0) tame = false;
    else ways *= node.max - node.min + 1;
  });
  return tame && ways <= FEW_WAYS;
}

function longestList(node: AST.Node): number {
  let most = 0;
  walk(node, (n) => {
    if ('alternatives' in n) most = Math.max(most, n.alternatives.length);
  });
  return most;
}

/** `within`: how many parts of varying repeats it stands in. */
function walk(node: AST.Node, see: (node: AST.Node, within: number) => void, within = 0): void {
  see(node, within);
  if ('alternatives' in node) for (const a of node.alternatives) walk(a, see, within);
  else if (node.type === 'Alternative') for (const e of node.elements) walk(e, see, within);
  else if (node.type === 'Quantifier') walk(node.element, see, node.max > 1 ? within + 1 : within);
}
