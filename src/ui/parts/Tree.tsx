import { useVirtualizer } from '@tanstack/react-virtual';
import { ChevronDown, ChevronRight } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { treeRows, type Children, type TreeNode, type TreeRow } from './tree-rows.ts';
import css from './Tree.module.css';

interface TreeProps {
  readonly label: string;
  readonly roots: readonly TreeNode[];
  readonly load: (id: string) => Promise<readonly TreeNode[]>;
  readonly chosen?: string | undefined;
  readonly onChoose: (node: TreeNode) => void;
  /** Of the part that scrolls, in pixels. */
  readonly height?: number;
  /** Nodes that are opened by themselves, from the root down, as what is chosen lies below them. */
  readonly reveal?: readonly string[];
}

const ROW = 26;

/**
 * A tree of any size: children are loaded as they are opened, and only lines in view are drawn. Arrows move and open,
 * Home and End go to the ends, Enter chooses, letters go to a name.
 */
export function Tree({ label, roots, load, chosen, onChoose, height = 300, reveal }: TreeProps) {
  const [open, setOpen] = useState<ReadonlySet<string>>(new Set());
  const [children, setChildren] = useState<ReadonlyMap<string, Children>>(new Map());
  const [active, setActive] = useState<string>();
  const scroll = useRef<HTMLDivElement>(null);
  const rows = treeRows(roots, open, children);
  const at = Math.max(
    0,
    rows.findIndex((r) => r.node.id === (active ?? chosen)),
  );
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW,
    overscan: 10,
    initialRect: { width: 0, height },
  });
  const setBelow = (id: string, below: Children) => setChildren((all) => new Map(all).set(id, below));
  const toggle = ({ id, opens }: TreeNode, wanted: boolean) => {
    if (!opens || open.has(id) === wanted) return;
    const next = new Set(open);
    if (wanted) next.add(id);
    else next.delete(id);
    setOpen(next);
    if (!wanted || Array.isArray(children.get(id))) return;
    setBelow(id, 'loading');
    load(id).then(
      (nodes) => setBelow(id, nodes),
      () => setBelow(id, 'failed'),
    );
  };
  const path = reveal?.join(' ') ?? '';
  useEffect(() => {
    const wanted = path === '' ? [] : path.split(' ');
    if (wanted.length === 0) return;
    setOpen((all) => new Set([...all, ...wanted]));
    for (const id of wanted) {
      if (Array.isArray(children.get(id))) continue;
      load(id).then(
        (nodes) => setBelow(id, nodes),
        () => setBelow(id, 'failed'),
      );
    }
    // Once for each path: what somebody folds afterwards stays folded.
    // eslint-disable-next-line react-hooks/exhaustive-deps
  }, [path]);
  const goTo = (index: number) => {
    const row = rows[Math.max(0, Math.min(rows.length - 1, index))];
    if (!row) return;
    setActive(row.node.id);
    virtual.scrollToIndex(rows.indexOf(row));
  };
  const keys = (e: React.KeyboardEvent) => {
    const row = rows[at];
    if (!row) return;
    if (e.key === 'ArrowDown') goTo(at + 1);
    else if (e.key === 'ArrowUp') goTo(at - 1);
    else if (e.key === 'Home') goTo(0);
    else if (e.key === 'End') goTo(rows.length - 1);
    else if (e.key === 'ArrowRight') {
      if (row.open) goTo(at + 1);
      else toggle(row.node, true);
    } else if (e.key === 'ArrowLeft') {
      if (row.open) toggle(row.node, false);
      else goTo(rows.findIndex((r) => r.node.id === row.parent));
    } else if (e.key === 'Enter' || e.key === ' ') onChoose(row.node);
    else if (e.key.length === 1 && !e.ctrlKey && !e.metaKey && !e.altKey) goTo(nextCalled(rows, at, e.key));
    else return;
    e.preventDefault();
  };
  return (
    <div
      ref={scroll}
      role="tree"
      aria-label={label}
      tabIndex={0}
      aria-activedescendant={rows[at] && rowId(rows[at])}
      className={css['tree']}
      style={{ height: Math.min(height, Math.max(ROW, rows.length * ROW)) }}
      onKeyDown={keys}
    >
      <div style={{ height: virtual.getTotalSize(), position: 'relative' }}>
        {virtual.getVirtualItems().map((item) => {
          const row = rows[item.index] as TreeRow;
          const { node } = row;
          return (
            <div
              key={node.id}
              id={rowId(row)}
              role="treeitem"
              tabIndex={-1}
              aria-level={row.level}
              aria-posinset={row.place}
              aria-setsize={row.among}
              aria-expanded={node.opens ? row.open : undefined}
              aria-selected={node.id === chosen}
              data-active={item.index === at || undefined}
              className={css['row']}
              style={{ transform: `translateY(${item.start}px)`, paddingLeft: (row.level - 1) * 16 }}
              onClick={() => {
                setActive(node.id);
                onChoose(node);
              }}
            >
              <span
                aria-hidden
                className={css['twist']}
                onClick={(e) => {
                  e.stopPropagation();
                  setActive(node.id);
                  toggle(node, !row.open);
                }}
              >
                {node.opens && (row.open ? <ChevronDown size={14} /> : <ChevronRight size={14} />)}
              </span>
              <span className={css['name']} data-dim={node.dim || undefined} title={node.name}>
                {node.name}
              </span>
              {row.waiting && (
                <span className={css['waiting']}>
                  {row.waiting === 'loading' ? 'reading …' : '◆ could not be read'}
                </span>
              )}
              {node.figure !== undefined && <span className={css['figure']}>{node.figure}</span>}
              {node.tag && (
                <span className={css['tag']} data-broken={node.tag.broken || undefined}>
                  {node.tag.words}
                </span>
              )}
            </div>
          );
        })}
      </div>
    </div>
  );
}

function rowId({ node }: TreeRow): string {
  return `tree-${node.id}`;
}

/** The next line after this one whose name begins with a letter; this one where none does. */
export function nextCalled(rows: readonly TreeRow[], at: number, letter: string): number {
  const begins = (i: number) => rows[i]?.node.name.toLowerCase().startsWith(letter.toLowerCase());
  for (let step = 1; step <= rows.length; step++) {
    const i = (at + step) % rows.length;
    if (begins(i)) return i;
  }
  return at;
}
