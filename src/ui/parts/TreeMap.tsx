import { hierarchy, treemap, treemapSquarify } from 'd3-hierarchy';
import { useState } from 'react';
import { ChartHead } from './ChartHead.tsx';
import css from './TreeMap.module.css';

export interface MapNode {
  readonly id: string;
  readonly name: string;
  /** Its size, where it has no children. */
  readonly size?: number;
  readonly children?: readonly MapNode[];
}

interface TreeMapProps {
  readonly label: string;
  readonly root: MapNode;
  readonly words: (size: number) => string;
  readonly chosen?: string | undefined;
  readonly onChoose: (id: string) => void;
}

const [WIDTH, HEIGHT] = [640, 320];
/** Smaller than this a name cannot be read in it. */
const LEAST = { width: 44, height: 18 };

/** Places by size: as large as what is in them. Can be read as a table, largest first. */
export function TreeMap({ label, root, words, chosen, onChoose }: TreeMapProps) {
  const [asTable, setAsTable] = useState(false);
  const laid = treemap<MapNode>()
    .tile(treemapSquarify)
    .size([WIDTH, HEIGHT])
    .paddingInner(2)
    .paddingTop((n) => (n.depth === 0 ? 0 : 18))(
    hierarchy(root, (n) => [...(n.children ?? [])])
      .sum((n) => (n.children?.length ? 0 : Math.max(0, n.size ?? 0)))
      .sort((a, b) => (b.value ?? 0) - (a.value ?? 0)),
  );
  const nodes = laid.descendants().slice(1);
  return (
    <figure className={css['map']}>
      <ChartHead label={label} drawn="areas" asTable={asTable} onTable={setAsTable} />
      {nodes.length === 0 ? (
        <p className={css['none']}>Nothing is in it.</p>
      ) : asTable ? (
        <table className={css['table']}>
          <tbody>
            {nodes.map((n) => (
              <tr key={n.data.id} aria-selected={n.data.id === chosen}>
                <th scope="row" style={{ paddingLeft: (n.depth - 1) * 16 }}>
                  <button type="button" onClick={() => onChoose(n.data.id)}>
                    {n.data.name}
                  </button>
                </th>
                <td>{words(n.value ?? 0)}</td>
              </tr>
            ))}
          </tbody>
        </table>
      ) : (
        <svg viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="group" aria-label={label} className={css['svg']}>
          {nodes.map((n) => {
            const [width, height] = [n.x1 - n.x0, n.y1 - n.y0];
            const title = `${n.data.name}: ${words(n.value ?? 0)}`;
            return (
              <g
                key={n.data.id}
                role="button"
                tabIndex={0}
                aria-label={title}
                aria-pressed={n.data.id === chosen}
                transform={`translate(${n.x0} ${n.y0})`}
                className={css['node']}
                data-depth={Math.min(n.depth, 3)}
                onClick={() => onChoose(n.data.id)}
                onKeyDown={(e) => e.key === 'Enter' && onChoose(n.data.id)}
              >
                <title>{title}</title>
                <rect width={width} height={height} />
                {width >= LEAST.width && height >= LEAST.height && (
                  <text x={5} y={13}>
                    {cut(n.data.name, width)}
                  </text>
                )}
              </g>
            );
          })}
        </svg>
      )}
    </figure>
  );
}

/** As much of a name as there is room for, at about 6 px a letter. */
function cut(name: string, width: number): string {
  const most = Math.floor((width - 8) / 6);
  return name.length <= most ? name : `${name.slice(0, Math.max(1, most - 1))}…`;
}
