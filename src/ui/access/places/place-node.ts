import type { PlaceNode } from '../../../server/access/index/place-answers.ts';
import type { TreeNode } from '../../parts/tree-rows.ts';

/** A place as a line of a tree: what it has of its own in a frame, what differs below as a diamond with how many. */
export function placeTreeNode(node: PlaceNode): TreeNode {
  return {
    ...{ id: node.key, name: node.name, opens: node.opens },
    ...(node.mark === 'own'
      ? { tag: { words: 'own' } }
      : node.mark === 'adds'
        ? { tag: { words: 'adds', broken: true } }
        : {}),
    ...(node.differs > 0 ? { figure: `◇ ${node.differs} below` } : {}),
  };
}

/** The same as somebody sees it: their strength, or that they do not reach it. */
export function seenTreeNode(node: PlaceNode): TreeNode {
  const reached = node.strength !== null && node.strength !== undefined;
  return {
    ...{ id: node.key, name: node.name, opens: node.opens },
    figure: reached ? (node.strength ?? '') : node.below ? 'only below' : 'not reached',
    dim: !reached,
  };
}
