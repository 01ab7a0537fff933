import { useState } from 'react';
import { dayText, parseDay } from '../../core/text/day.ts';
import { Button } from './Button.tsx';
import type { Days } from './Calendar.tsx';
import { lazyPart } from './lazy-part.tsx';
import { Popover } from './Popover.tsx';
import css from './RangeField.module.css';

const RangeCalendar = lazyPart('the calendar', async () => (await import('./Calendar.tsx')).RangeCalendar);

/** A first and a last day, either of which may be left open; typed, or chosen in a calendar. */
export function RangeField({
  label,
  value,
  onChange,
}: {
  readonly label: string;
  readonly value: Days;
  readonly onChange: (days: Days) => void;
}) {
  return (
    <Popover label={label} words={rangeWords(value)}>
      {(close) => (
        <div className={css['range']}>
          <div className={css['ends']}>
            <DayInput
              label="From"
              value={value.from}
              first
              onChange={(from) => onChange({ ...value, from })}
            />
            <DayInput label="To" value={value.to} onChange={(to) => onChange({ ...value, to })} />
          </div>
          <RangeCalendar value={value} onChange={onChange} />
          <div className={css['ends']}>
            <Button onClick={close}>Done</Button>
            {(value.from !== '' || value.to !== '') && (
              <Button kind="quiet" onClick={() => onChange({ from: '', to: '' })}>
                Any day
              </Button>
            )}
          </div>
        </div>
      )}
    </Popover>
  );
}

export function rangeWords({ from, to }: Days): string {
  if (from === '' && to === '') return 'Any day';
  if (from === to) return dayText(from);
  if (from === '') return `Up to ${dayText(to)}`;
  return to === '' ? `From ${dayText(from)}` : `${dayText(from)} – ${dayText(to)}`;
}

/** A day to type, as 20 Nov 2026; what is no day is said, and changes nothing. */
export function DayInput({
  label,
  value,
  onChange,
  first = false,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChange: (day: string) => void;
  /** Has the focus when it appears. */
  readonly first?: boolean;
}) {
  const [typed, setTyped] = useState<string>();
  const text = typed ?? (value === '' ? '' : dayText(value));
  const wrong = typed !== undefined && typed.trim() !== '' && parseDay(typed) === undefined;
  const leave = () => {
    if (typed === undefined || wrong) return;
    onChange(parseDay(typed) ?? '');
    setTyped(undefined);
  };
  return (
    <label className={css['day']}>
      {label}
      <input
        autoFocus={first}
        value={text}
        placeholder="20 Nov 2026"
        size={12}
        aria-invalid={wrong || undefined}
        title={wrong ? 'Type a day as 20 Nov 2026.' : undefined}
        onChange={(e) => setTyped(e.target.value)}
        onBlur={leave}
        onKeyDown={(e) => e.key === 'Enter' && leave()}
      />
      {wrong && <span className={css['wrong']}>◆ Type it as 20 Nov 2026</span>}
    </label>
  );
}
