import { parseDay } from '../../text/day.ts';
import { plainMarks } from './name-days.ts';
import { dayIn, type Day } from './period.ts';

/** A shorter mark, such as the number of a row, would stand in names by chance. */
const SHORTEST = 4;
/** As the store keeps them. */
const LONGEST = 160;

/** What two columns of a table tell: days by what names hold. */
export class ColumnDays {
  readonly #days = new Map<string, Day>();
  #unread = 0;
  #twice = 0;

  /** Instants are told on the day that they have in this zone. */
  constructor(readonly zone: string) {}

  add(mark: string, day: string): void {
    const plain = plainMarks(mark).trim();
    const is = dayOfCell(day, this.zone);
    if (plain.length < SHORTEST || plain.length > LONGEST || is === undefined) {
      this.#unread++;
      return;
    }
    const known = this.#days.get(plain);
    if (known !== undefined && known !== is) this.#twice++;
    // Of two days the later one counts: nothing goes too soon.
    if (known === undefined || known < is) this.#days.set(plain, is);
  }

  /** By plain marks, without the spaces at their ends. */
  get days(): ReadonlyMap<string, Day> {
    return this.#days;
  }

  /** Rows without a day, or without a mark that can be looked for. */
  get unread(): number {
    return this.#unread;
  }

  /** Rows whose mark stood in another row with another day. */
  get twice(): number {
    return this.#twice;
  }
}

/**
 * The day of a cell: a day as somebody types it; a date and time without an offset, on its own day; one with an offset, on
 * the day that it has in `zone`. `undefined` for anything else.
 */
export function dayOfCell(cell: string, zone: string): Day | undefined {
  const text = cell.trim();
  const [, date = '', time = '', offset = ''] =
    /^(\d{4}-\d{2}-\d{2})[T ](\d{2}:\d{2}(?::\d{2}(?:\.\d+)?)?)\s*(Z|[+-]\d{2}(?::?\d{2})?)?$/.exec(text) ??
    [];
  const day = parseDay(date === '' ? text : date);
  if (day === undefined || offset === '') return day;
  const hours = /^[+-]\d{2}$/.test(offset) ? `${offset}:00` : offset.replace(/^([+-]\d{2})(\d{2})$/, '$1:$2');
  const at = new Date(`${date}T${time}${hours}`);
  return Number.isNaN(at.getTime()) ? undefined : dayIn(at.toISOString(), zone);
}
