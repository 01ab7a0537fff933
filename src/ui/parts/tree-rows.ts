/** A node of a tree; its children are loaded when it is first opened. */
export interface TreeNode {
  readonly id: string;
  readonly name: string;
  /** What stands at the end of its line. */
  readonly figure?: string;
  /** A word in a frame of its own, whole or broken. */
  readonly tag?: { readonly words: string; readonly broken?: boolean };
  /** Shown as what is not theirs. */
  readonly dim?: boolean;
  /** Whether it has children; how many need not be known. */
  readonly opens: boolean;
}

export type Children = readonly TreeNode[] | 'loading' | 'failed';

/** A line of a tree as it is opened: a node, or that its children are on their way. */
export interface TreeRow {
  readonly node: TreeNode;
  readonly level: number;
  readonly parent: string | undefined;
  readonly open: boolean;
  /** Its place among its siblings, from 1, and how many they are. */
  readonly place: number;
  readonly among: number;
  readonly waiting?: 'loading' | 'failed';
}

/** The lines that show, from the roots and what is open: as many as are open, whatever the tree holds. */
export function treeRows(
  roots: readonly TreeNode[],
  open: ReadonlySet<string>,
  children: ReadonlyMap<string, Children>,
): readonly TreeRow[] {
  const rows: TreeRow[] = [];
  // By hand instead of by recursion, since folders may be nested deeper than a stack.
  const stack: { nodes: readonly TreeNode[]; at: number; level: number; parent: string | undefined }[] = [
    { nodes: roots, at: 0, level: 1, parent: undefined },
  ];
  for (let top = stack.at(-1); top; top = stack.at(-1)) {
    const node = top.nodes[top.at++];
    if (!node) {
      stack.pop();
      continue;
    }
    const isOpen = node.opens && open.has(node.id);
    const below = isOpen ? (children.get(node.id) ?? 'loading') : undefined;
    rows.push({
      node,
      level: top.level,
      parent: top.parent,
      open: isOpen,
      place: top.at,
      among: top.nodes.length,
      ...(typeof below === 'string' ? { waiting: below } : {}),
    });
    if (Array.isArray(below))
      stack.push({ nodes: below as readonly TreeNode[], at: 0, level: top.level + 1, parent: node.id });
  }
  return rows;
}
