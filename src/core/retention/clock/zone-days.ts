import { dayIn } from './period.ts';
import { dayNumber } from '../../lens/fact-index.ts';

const DAY = 86_400_000;
const HOUR = 3_600_000;

/** How far a zone is ahead of UTC: before a moment, and from it on. */
interface Ahead {
  readonly before: number;
  readonly from: number;
  readonly after: number;
}

const known = new Map<string, ZoneDays>();

/** Days where an organisation is, of many moments: the same that `dayIn` tells, asked of the calendar once a day. */
export class ZoneDays {
  /** By day of UTC; null where it changes its clock more than once. */
  readonly #ahead = new Map<number, Ahead | null>();
  readonly #clock: Intl.DateTimeFormat;

  constructor(readonly zone: string) {
    this.#clock = new Intl.DateTimeFormat('en', {
      timeZone: zone,
      calendar: 'iso8601',
      hourCycle: 'h23',
      ...{ year: 'numeric', month: 'numeric', day: 'numeric' },
      ...{ hour: 'numeric', minute: 'numeric', second: 'numeric' },
    });
  }

  /** What was asked of the calendar once is known to all who ask later. */
  static in(zone: string): ZoneDays {
    const days = known.get(zone) ?? new ZoneDays(zone);
    known.set(zone, days);
    return days;
  }

  /** Days since 1 January 1970; milliseconds since then. */
  dayOf(at: number): number {
    const utc = Math.floor(at / DAY);
    let ahead = this.#ahead.get(utc);
    if (ahead === undefined) this.#ahead.set(utc, (ahead = this.#aheadOn(utc)));
    return ahead === null
      ? dayNumber(dayIn(new Date(at).toISOString(), this.zone))
      : Math.floor((at + (at < ahead.from ? ahead.before : ahead.after)) / DAY);
  }

  #aheadOn(utc: number): Ahead | null {
    const begin = utc * DAY;
    const [before, after] = [this.#aheadAt(begin), this.#aheadAt(begin + DAY)];
    if (before === after) return { before, from: begin, after };
    const hours = Array.from({ length: 25 }, (_, h) => this.#aheadAt(begin + h * HOUR));
    const changes = hours.flatMap((a, h) => (h > 0 && a !== hours[h - 1] ? [h] : []));
    const [hour = 0, another] = changes;
    if (another !== undefined) return null;
    let [low, high] = [begin + (hour - 1) * HOUR, begin + hour * HOUR];
    while (high - low > 1) {
      const middle = Math.floor((low + high) / 2);
      if (this.#aheadAt(middle) === before) low = middle;
      else high = middle;
    }
    return { before, from: high, after };
  }

  #aheadAt(at: number): number {
    const parts = this.#clock.formatToParts(new Date(at));
    const part = (type: string) => Number(parts.find((p) => p.type === type)?.value);
    const there = new Date(0);
    there.setUTCFullYear(part('year'), part('month') - 1, part('day'));
    const clock = part('hour') * HOUR + part('minute') * 60_000 + part('second') * 1000;
    // The calendar tells whole seconds.
    return there.getTime() + clock - Math.floor(at / 1000) * 1000;
  }
}
