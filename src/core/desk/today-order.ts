import { todayKind } from './today-kinds.ts';

const HOUR = 3_600_000;
const DAY = 24 * HOUR;
/** What is wanted first stands at 0, what is wanted last about here. */
const LAST_PLACE = 60;

/** What is left until something is due, with what that adds; the first that holds counts. */
const NEARNESS: readonly (readonly [ms: number, adds: number])[] = [
  [0, 40],
  [DAY, 32],
  [3 * DAY, 24],
  [7 * DAY, 14],
  [30 * DAY, 5],
];

export interface Timed {
  readonly kind: string;
  readonly key: string;
  /** ISO 8601. */
  readonly since: string;
  readonly due: string | null;
}

/** Why something stands where it does: parts of a sum, the largest sum first. */
export interface TodayWeight {
  readonly weight: number;
  readonly steps: readonly { readonly words: string; readonly value: number }[];
}

/** By what it costs to miss it (0 to 60, by its kind), and how near it is (40 once it is due, less before). */
export function todayWeight({ kind, due }: Pick<Timed, 'kind' | 'due'>, now: Date): TodayWeight {
  const { words, place } = todayKind(kind) ?? { words: kind, place: 50 };
  const cost = Math.max(0, LAST_PLACE - place);
  const left = due === null ? Infinity : Date.parse(due) - now.getTime();
  const near = NEARNESS.find(([ms]) => left <= ms)?.[1] ?? 0;
  const steps = [
    { words: `what it costs to miss: ${words}`, value: cost },
    {
      words:
        due === null ? 'without a day' : left <= 0 ? 'its time is over' : `time left: ${timeWords(left)}`,
      value: near,
    },
  ];
  return { weight: cost + near, steps };
}

function timeWords(ms: number): string {
  const hours = Math.ceil(ms / HOUR);
  if (hours <= 48) return hours === 1 ? '1 hour' : `${hours} hours`;
  return `${Math.floor(ms / DAY)} days`;
}

/** What is most worth doing first; of what weighs the same what is due first, then what waits longest. */
export function inTodayOrder<T extends Timed>(items: readonly T[], now: Date): readonly T[] {
  const weighed = items.map((item) => ({ item, weight: todayWeight(item, now).weight }));
  const time = (at: string | null) => (at === null ? Infinity : Date.parse(at));
  return weighed
    .toSorted(
      (a, b) =>
        b.weight - a.weight ||
        compare(time(a.item.due), time(b.item.due)) ||
        compare(time(a.item.since), time(b.item.since)) ||
        compare(a.item.kind + a.item.key, b.item.kind + b.item.key),
    )
    .map((w) => w.item);
}

const compare = <V extends string | number>(a: V, b: V) => (a < b ? -1 : a > b ? 1 : 0);
