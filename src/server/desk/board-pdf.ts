import { extent } from 'd3-array';
import { scaleLinear } from 'd3-scale';
import { line } from 'd3-shape';
import type { Content } from 'pdfmake/interfaces.js';
import { aimOf, comparisonText, figureText, partWords, valueWords } from '../../core/figures/told.ts';
import { toldValue } from '../../core/figures/figure.ts';
import { dayText } from '../../core/text/day.ts';
import { DIM, INK, makeDocument, MARK, paragraph, printable, RULE, title, WIDTH } from '../files/document.ts';
import type { ShownBoard, ShownTile } from './shown-board.ts';

const DRAWN = '#35596b';
const GAP = 18;
const COLUMN = (WIDTH - GAP) / 2;
const [DRAWN_WIDTH, DRAWN_HEIGHT] = [COLUMN - 4, 34];
/** Eight figures fill a page: more parts than these would not fit beside each other. */
const MOST_PARTS = 6;

/** A board on one page; `proof` says what it can be proved by. */
export function boardPdf(shown: ShownBoard, proof: readonly string[] = []): Promise<Buffer> {
  const { board, tiles, day, comparedWith } = shown;
  const rows: ShownTile[][] = [];
  for (let at = 0; at < tiles.length; at += 2) rows.push(tiles.slice(at, at + 2));
  return makeDocument({
    title: board.name,
    foot: `${board.name}, ${dayText(day)}`,
    content: [
      title(board.name),
      ...(board.about ? [paragraph(board.about)] : []),
      paragraph(`On ${dayText(day)}, compared with ${dayText(comparedWith)}.`, 9, DIM),
      ...rows.map((pair): Content => ({
        columns: pair.map((t) => ({ width: COLUMN, stack: tileContent(t, board.compare) })),
        columnGap: GAP,
        margin: [0, 14, 0, 0],
        unbreakable: true,
      })),
      ...proof.map((p) => paragraph(p, 7, DIM)),
    ],
  });
}

function tileContent(shown: ShownTile, compare: ShownBoard['board']['compare']): Content[] {
  const { tile, figure, now, comparison } = shown;
  const rule: Content = {
    canvas: [{ type: 'line', x1: 0, y1: 0, x2: COLUMN, y2: 0, lineWidth: 0.5, lineColor: RULE }],
    margin: [0, 0, 0, 4],
  };
  if (!figure)
    return [
      rule,
      paragraph(shown.hidden === 'gone' ? 'This figure is no more.' : 'Not yours to see.', 9, DIM),
    ];
  const { value, of } = figureText(figure, now);
  const isWorse = comparison?.way === 'worse' && comparison.sure !== 'within chance';
  const aim = aimOf(figure, now, figure.target);
  return [
    rule,
    paragraph(figure.name, 9, DIM),
    {
      text: [
        { text: `${printable(value)} `, bold: true, fontSize: 18, color: INK },
        { text: printable(of), fontSize: 9, color: DIM },
      ],
    },
    paragraph(
      `${isWorse ? 'Worse: ' : ''}${comparisonText(figure, comparison, compare)}`,
      8,
      isWorse ? MARK : DIM,
    ),
    ...(figure.target === null
      ? []
      : [
          paragraph(
            `To be ${valueWords(figure, figure.target)}${aim === undefined ? '' : aim === 'met' ? ': met' : ': not met'}`,
            8,
            aim === 'short' ? MARK : DIM,
          ),
        ]),
    ...(shown.parts && tile.by ? partsContent(shown) : lineContent(shown)),
  ];
}

function partsContent({ parts, figure, tile }: ShownTile): Content[] {
  if (!parts || !figure || tile.by === null) return [];
  const { by } = tile;
  const most = Math.max(...parts.map((p) => p.value ?? 0), Number.MIN_VALUE);
  return parts.slice(0, MOST_PARTS).map((p) => ({
    columns: [
      { width: 90, ...textOf(partWords(by, p.part)) },
      {
        width: '*',
        canvas: [
          {
            type: 'rect',
            x: 0,
            y: 3,
            w: Math.max(1, ((p.value ?? 0) / most) * (COLUMN - 150)),
            h: 5,
            color: DRAWN,
          },
        ],
      },
      { width: 45, ...textOf(valueWords(figure, p.value)), alignment: 'right' as const },
    ],
    margin: [0, 1, 0, 0] as [number, number, number, number],
  }));
}

const textOf = (words: string) => ({ text: printable(words, 40), fontSize: 8, color: INK });

function lineContent({ days, figure }: ShownTile): Content[] {
  if (!figure) return [];
  const points = days.flatMap((d) => {
    const { value } = toldValue(figure, d);
    return value === null ? [] : [{ at: Date.parse(d.day), value }];
  });
  const [first, last] = [points[0], points.at(-1)];
  if (!first || !last || points.length < 2) return [];
  const [low = 0, high = 0] = extent(points, (p) => p.value);
  const x = scaleLinear([first.at, last.at], [1, DRAWN_WIDTH - 1]);
  const y = scaleLinear(low === high ? [low - 1, high + 1] : [low, high], [DRAWN_HEIGHT - 2, 2]);
  const path = line<(typeof points)[number]>(
    (p) => Math.round(x(p.at) * 10) / 10,
    (p) => Math.round(y(p.value) * 10) / 10,
  )(points);
  const since = dayText(new Date(first.at).toISOString().slice(0, 10));
  return [
    {
      svg: `<svg width="${DRAWN_WIDTH}" height="${DRAWN_HEIGHT}" viewBox="0 0 ${DRAWN_WIDTH} ${DRAWN_HEIGHT}"><path d="${path ?? ''}" fill="none" stroke="${DRAWN}" stroke-width="1.2"/></svg>`,
      margin: [0, 4, 0, 0],
    },
    paragraph(`since ${since}, from ${valueWords(figure, low)} to ${valueWords(figure, high)}`, 7, DIM),
  ];
}
