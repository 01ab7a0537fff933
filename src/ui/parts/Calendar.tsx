import { DayPicker, type DateRange } from 'react-day-picker';
import css from './Calendar.module.css';

/** Days in ISO 8601; '' for none. */
export interface Days {
  readonly from: string;
  readonly to: string;
}

/** A month of days, of which one is chosen: arrows move, Page Up and Page Down change the month. */
export function Calendar({
  value,
  onChoose,
}: {
  readonly value: string;
  readonly onChoose: (day: string) => void;
}) {
  return (
    <DayPicker
      mode="single"
      {...COMMON}
      selected={dateOf(value)}
      defaultMonth={dateOf(value) ?? new Date()}
      onSelect={(day) => day && onChoose(isoOf(day))}
    />
  );
}

/** A month of days, of which a first and a last are chosen. */
export function RangeCalendar({
  value,
  onChange,
}: {
  readonly value: Days;
  readonly onChange: (days: Days) => void;
}) {
  const [from, to] = [dateOf(value.from), dateOf(value.to)];
  return (
    <DayPicker
      mode="range"
      {...COMMON}
      selected={{ from, to } satisfies DateRange}
      defaultMonth={to ?? from ?? new Date()}
      onSelect={(range) =>
        onChange({
          from: range?.from ? isoOf(range.from) : '',
          to: range?.to ? isoOf(range.to) : '',
        })
      }
    />
  );
}

const COMMON = {
  weekStartsOn: 1,
  showOutsideDays: true,
  captionLayout: 'label',
  classNames: {
    root: css['root'] ?? '',
    months: css['months'] ?? '',
    month_caption: css['caption'] ?? '',
    nav: css['nav'] ?? '',
    button_previous: css['step'] ?? '',
    button_next: css['step'] ?? '',
    chevron: css['chevron'] ?? '',
    weekday: css['weekday'] ?? '',
    month_grid: css['grid'] ?? '',
    day: css['day'] ?? '',
    day_button: css['dayButton'] ?? '',
    selected: css['selected'] ?? '',
    today: css['today'] ?? '',
    outside: css['outside'] ?? '',
    range_middle: css['middle'] ?? '',
  },
} as const;

/** A day has no zone: it is the viewer's own midnight here and nowhere else. */
function dateOf(iso: string): Date | undefined {
  const [year, month, day] = iso.split('-').map(Number);
  return year && month && day ? new Date(year, month - 1, day) : undefined;
}

function isoOf(day: Date): string {
  const two = (n: number) => String(n).padStart(2, '0');
  return `${day.getFullYear()}-${two(day.getMonth() + 1)}-${two(day.getDate())}`;
}
