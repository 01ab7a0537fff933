import { scaleLinear } from 'd3-scale';
import { useRef, useState } from 'react';
import { percentWords } from '../desk/words.ts';
import css from './CurveChart.module.css';

export interface CurveChartPoint {
  readonly threshold: number;
  readonly precision: number;
  readonly recall: number;
}

const W = 420;
const H = 230;
const LEFT = 44;
const BOTTOM = 34;

/**
 * Precision over recall, with the threshold as a handle that is dragged along the curve or moved with the arrows. Can
 * be read as a table.
 */
export function CurveChart({
  title,
  points,
  at,
  onMove,
}: {
  readonly title: string;
  /** From the highest threshold to the lowest. */
  readonly points: readonly CurveChartPoint[];
  readonly at: CurveChartPoint;
  /** Moves the threshold; left out where it may not be moved. */
  readonly onMove?: ((threshold: number) => void) | undefined;
}) {
  const [asTable, setAsTable] = useState(false);
  const svg = useRef<SVGSVGElement>(null);
  const dragging = useRef(false);
  const x = scaleLinear([0, 1], [LEFT, W - 10]);
  const y = scaleLinear([0, 1], [H - BOTTOM, 10]);
  const nearest = (clientX: number, clientY: number) => {
    const box = svg.current?.getBoundingClientRect();
    if (!box) return;
    const recall = x.invert(((clientX - box.left) / box.width) * W);
    const precision = y.invert(((clientY - box.top) / box.height) * H);
    const best = points.reduce<CurveChartPoint | undefined>((b, p) => {
      const far = (q: CurveChartPoint) => Math.hypot(q.recall - recall, (q.precision - precision) / 2);
      return !b || far(p) < far(b) ? p : b;
    }, undefined);
    if (best) onMove?.(best.threshold);
  };
  const step = (by: number) => {
    const i = points.findIndex((p) => p.threshold <= at.threshold);
    const next = points[Math.max(0, Math.min(points.length - 1, (i < 0 ? points.length - 1 : i) + by))];
    if (next) onMove?.(next.threshold);
  };
  const words = `threshold ${at.threshold.toFixed(2)}: precision ${percentWords(at.precision)}, recall ${percentWords(at.recall)}`;
  const path = points
    .map((p, i) => `${i === 0 ? 'M' : 'L'}${x(p.recall).toFixed(1)} ${y(p.precision).toFixed(1)}`)
    .join('');
  const ticks = [0, 0.25, 0.5, 0.75, 1];
  return (
    <figure className={css['chart']}>
      {asTable ? (
        <div className={css['table']}>
          <table>
            <caption className="only-read-out">{title}</caption>
            <thead>
              <tr>
                <th>Threshold</th>
                <th>Precision</th>
                <th>Recall</th>
              </tr>
            </thead>
            <tbody>
              {points.map((p) => (
                <tr key={p.threshold}>
                  <th scope="row">{p.threshold.toFixed(3)}</th>
                  <td>{percentWords(p.precision, 1)}</td>
                  <td>{percentWords(p.recall, 1)}</td>
                </tr>
              ))}
            </tbody>
          </table>
        </div>
      ) : (
        <svg
          ref={svg}
          viewBox={`0 0 ${W} ${H}`}
          aria-label={title}
          role="group"
          onPointerDown={(e) => {
            if (!onMove) return;
            dragging.current = true;
            e.currentTarget.setPointerCapture(e.pointerId);
            nearest(e.clientX, e.clientY);
          }}
          onPointerMove={(e) => dragging.current && nearest(e.clientX, e.clientY)}
          onPointerUp={() => (dragging.current = false)}
        >
          {ticks.map((t) => (
            <g key={t} className={css['tick']} aria-hidden>
              <line x1={x(t)} x2={x(t)} y1={y(0)} y2={y(1)} />
              <line x1={x(0)} x2={x(1)} y1={y(t)} y2={y(t)} />
              <text x={x(t)} y={H - 18} textAnchor="middle">
                {percentWords(t)}
              </text>
              <text x={LEFT - 6} y={y(t) + 4} textAnchor="end">
                {percentWords(t)}
              </text>
            </g>
          ))}
          <text x={x(0.5)} y={H - 3} textAnchor="middle" className={css['axis']} aria-hidden>
            recall: of the examples, found
          </text>
          <text
            transform={`translate(10 ${y(0.5)}) rotate(-90)`}
            textAnchor="middle"
            className={css['axis']}
            aria-hidden
          >
            precision: of those found, right
          </text>
          <path d={path} className={css['curve']} aria-hidden />
          <circle
            className={css['handle']}
            cx={x(at.recall)}
            cy={y(at.precision)}
            r={7}
            role="slider"
            tabIndex={onMove ? 0 : -1}
            aria-label="Threshold"
            aria-valuemin={0}
            aria-valuemax={1}
            aria-valuenow={Number(at.threshold.toFixed(3))}
            aria-valuetext={words}
            onKeyDown={(e) => {
              if (e.key === 'ArrowRight' || e.key === 'ArrowDown') step(1);
              else if (e.key === 'ArrowLeft' || e.key === 'ArrowUp') step(-1);
              else return;
              e.preventDefault();
            }}
          />
        </svg>
      )}
      <figcaption>
        {words}.{' '}
        <button type="button" onClick={() => setAsTable(!asTable)}>
          {asTable ? 'Show as a chart' : 'Read as a table'}
        </button>
      </figcaption>
    </figure>
  );
}
