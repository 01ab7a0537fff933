import { sankey, sankeyLinkHorizontal, type SankeyLink, type SankeyNode } from 'd3-sankey';
import css from './FlowMap.module.css';

export interface MapPoint {
  readonly id: string;
  readonly name: string;
  /** From the left, from 0. */
  readonly column: number;
}

export interface MapFlow {
  readonly from: string;
  readonly to: string;
  readonly size: number;
  readonly words: string;
  /** Something is wrong with it. */
  readonly mark?: boolean;
}

interface FlowMapProps {
  readonly label: string;
  /** Above each column. */
  readonly columns: readonly string[];
  readonly points: readonly MapPoint[];
  readonly flows: readonly MapFlow[];
  readonly chosen?: string | undefined;
  readonly onChoose: (id: string) => void;
}

const WIDTH = 900;
const HEAD = 22;
/** Room for a line of text beside each point. */
const EACH = 24;
const BAR = 10;

type Point = SankeyNode<MapPoint, MapFlow>;
type Link = SankeyLink<MapPoint, MapFlow>;

/** What flows from where to where, in columns; a band is as wide as what flows. Choosing a point follows it both ways. */
export function FlowMap({ label, columns, points, flows, chosen, onChoose }: FlowMapProps) {
  const tallest = Math.max(1, ...columns.map((_, c) => points.filter((p) => p.column === c).length));
  const height = HEAD + Math.max(60, tallest * EACH);
  const layout = sankey<MapPoint, MapFlow>()
    .nodeId((p) => p.id)
    .nodeAlign((p) => (p as unknown as MapPoint).column)
    .nodeWidth(BAR)
    .nodePadding(Math.max(6, EACH - 12))
    .extent([
      [1, HEAD + 4],
      [WIDTH - 150, height - 4],
    ]);
  const laid = layout({
    nodes: points.map((p) => ({ ...p })),
    links: flows.map((f) => ({ ...f, source: f.from, target: f.to, value: f.size })),
  });
  const path = sankeyLinkHorizontal<MapPoint, MapFlow>();
  const left = columns.map((_, c) => laid.nodes.find((n) => n.column === c)?.x0);
  return (
    <svg viewBox={`0 0 ${WIDTH} ${height}`} role="group" aria-label={label} className={css['map']}>
      {columns.map(
        (words, c) =>
          left[c] !== undefined && (
            <text key={words} x={left[c]} y={12} className={css['head']}>
              {words}
            </text>
          ),
      )}
      {laid.links.map((l: Link) => (
        <path
          key={`${l.from} ${l.to}`}
          d={path(l) ?? ''}
          strokeWidth={Math.max(1.5, l.width ?? 0)}
          className={css['flow']}
          data-mark={l.mark || undefined}
        >
          <title>{l.words}</title>
        </path>
      ))}
      {laid.nodes.map((n: Point) => {
        const [x, y] = [n.x0 ?? 0, n.y0 ?? 0];
        const high = Math.max(3, (n.y1 ?? 0) - y);
        return (
          <g
            key={n.id}
            role="button"
            tabIndex={0}
            aria-label={n.name}
            aria-pressed={n.id === chosen}
            className={css['point']}
            onClick={() => onChoose(n.id)}
            onKeyDown={(e) => e.key === 'Enter' && onChoose(n.id)}
          >
            <rect x={x} y={y} width={BAR} height={high} />
            <text x={x + BAR + 4} y={y + high / 2 + 4}>
              {n.name.length > 24 ? `${n.name.slice(0, 23)}…` : n.name}
              <title>{n.name}</title>
            </text>
          </g>
        );
      })}
    </svg>
  );
}
