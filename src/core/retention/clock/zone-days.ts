import { dayIn } from './period.ts';
import { dayNumber } from '../../lens/fact-index.ts';

const DAY = 86_400_000;

/** Days where an organisation is, of many moments: the same that `dayIn` tells, asked of the calendar once a day. */
export class ZoneDays {
  /** By day of UTC: how far the zone is ahead all through it, in milliseconds; NaN where it changes its clock. */
  readonly #ahead = new Map<number, number>();

  constructor(readonly zone: string) {}

  /** Days since 1 January 1970; milliseconds since then. */
  dayOf(at: number): number {
    const utc = Math.floor(at / DAY);
    let ahead = this.#ahead.get(utc);
    if (ahead === undefined) this.#ahead.set(utc, (ahead = this.#aheadOn(utc)));
    return Number.isNaN(ahead)
      ? dayNumber(dayIn(new Date(at).toISOString(), this.zone))
      : Math.floor((at + ahead) / DAY);
  }

  #aheadOn(utc: number): number {
    const [begin, end] = [this.#aheadAt(utc * DAY), this.#aheadAt((utc + 1) * DAY)];
    return begin === end ? begin : NaN;
  }

  #aheadAt(at: number): number {
    const parts = new Intl.DateTimeFormat('en', {
      timeZone: this.zone,
      calendar: 'iso8601',
      hourCycle: 'h23',
      ...{ year: 'numeric', month: 'numeric', day: 'numeric' },
      ...{ hour: 'numeric', minute: 'numeric', second: 'numeric' },
    }).formatToParts(new Date(at));
    const part = (type: string) => Number(parts.find((p) => p.type === type)?.value);
    const there = new Date(0);
    there.setUTCFullYear(part('year'), part('month') - 1, part('day'));
    return there.getTime() + part('hour') * 3_600_000 + part('minute') * 60_000 + part('second') * 1000 - at;
  }
}
