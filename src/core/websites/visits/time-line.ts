import { ranTooEarly, type Answer, type Lane, type VisitEvent } from './visit.ts';

/** What happened to all visitors, or to some, at about the same point of their courses. */
export interface TimeRow {
  readonly key: string;
  readonly phase: number;
  /** Of the visitor that came to it first, in milliseconds. */
  readonly at: number;
  readonly words: string;
  readonly cells: Readonly<Partial<Record<Answer, VisitEvent>>>;
  readonly tooEarly: boolean;
}

/**
 * The courses on one line. The same event of two visitors is one row, and nobody's events change their order: where two
 * visitors met things in different orders, the second gets rows of its own.
 */
export function timeLine(lanes: readonly Lane[]): readonly TimeRow[] {
  let rows: { key: string; phase: number; events: Map<Answer, VisitEvent> }[] = [];
  for (const lane of lanes) {
    const theirs = lane.events.map((e) => ({ key: e.key, phase: e.phase, event: e }));
    rows = joined(rows, theirs, lane.answer);
  }
  return rows.map(({ key, phase, events }) => {
    const all = [...events.values()];
    const first = all.reduce((a, b) => (b.at < a.at ? b : a));
    return {
      ...{ key, phase, words: first.words, at: first.at },
      cells: Object.fromEntries(events),
      tooEarly: all.some(ranTooEarly),
    };
  });
}

type Row = { key: string; phase: number; events: Map<Answer, VisitEvent> };

/** Longest common subsequence by key within each phase, so that as much as can be stands side by side. */
function joined(
  rows: readonly Row[],
  theirs: readonly { key: string; phase: number; event: VisitEvent }[],
  answer: Answer,
): Row[] {
  const phases = [...new Set([...rows, ...theirs].map((r) => r.phase))].toSorted((a, b) => a - b);
  return phases.flatMap((phase) => {
    const [a, b] = [rows.filter((r) => r.phase === phase), theirs.filter((t) => t.phase === phase)];
    const longest: number[][] = Array.from({ length: a.length + 1 }, () =>
      new Array<number>(b.length + 1).fill(0),
    );
    const cell = (i: number, j: number) => longest[i]?.[j] ?? 0;
    for (let i = a.length - 1; i >= 0; i--)
      for (let j = b.length - 1; j >= 0; j--)
        (longest[i] as number[])[j] =
          a[i]?.key === b[j]?.key ? 1 + cell(i + 1, j + 1) : Math.max(cell(i + 1, j), cell(i, j + 1));
    const out: Row[] = [];
    let [i, j] = [0, 0];
    while (i < a.length || j < b.length) {
      const [left, right] = [a[i], b[j]];
      if (left && right && left.key === right.key) {
        out.push({ ...left, events: new Map([...left.events, [answer, right.event]]) });
        [i, j] = [i + 1, j + 1];
      } else if (left && (!right || cell(i + 1, j) >= cell(i, j + 1))) {
        out.push(left);
        i++;
      } else if (right) {
        out.push({ key: right.key, phase, events: new Map([[answer, right.event]]) });
        j++;
      }
    }
    return out;
  });
}

/** How things stood for a visitor at a point of their course. */
export interface StateAt {
  readonly purposes: NonNullable<VisitEvent['purposes']>;
  readonly answered: boolean;
  /** What was told to tag systems last. */
  readonly told: string;
  /** Names that were stored until then. */
  readonly stored: readonly string[];
}

export function stateAt(lane: Lane, event: VisitEvent): StateAt {
  const at = lane.events.indexOf(event);
  const until = lane.events.slice(0, at < 0 ? undefined : at + 1);
  const last = (what: VisitEvent['what']) => until.findLast((e) => e.what === what);
  return {
    purposes: until.findLast((e) => e.purposes)?.purposes ?? {},
    answered: last('answer') !== undefined,
    told: last('told')?.why ?? '',
    stored: [...new Set(until.filter((e) => e.what === 'stored').map((e) => e.name))],
  };
}

/** What a visit shows that the one before did not, and the other way round. */
export function visitDifference(
  before: readonly Lane[],
  after: readonly Lane[],
): { readonly worse: readonly string[]; readonly better: readonly string[] } {
  const early = (lanes: readonly Lane[]) =>
    new Map(
      lanes.flatMap((l) =>
        l.events
          .filter(ranTooEarly)
          .map((e) => [`${l.answer} ${e.phase > 0 ? 1 : 0} ${e.key}`, e.words] as const),
      ),
    );
  const [then, now] = [early(before), early(after)];
  const only = (a: ReadonlyMap<string, string>, b: ReadonlyMap<string, string>) => [
    ...new Set([...a].filter(([k]) => !b.has(k)).map(([, words]) => words)),
  ];
  return { worse: only(now, then), better: only(then, now) };
}
