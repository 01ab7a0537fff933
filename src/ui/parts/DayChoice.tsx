import { dateWords } from '../desk/words.ts';
import { lazyPart } from './lazy-part.tsx';
import { Popover } from './Popover.tsx';

const Calendar = lazyPart('the calendar', async () => (await import('./Calendar.tsx')).Calendar);

/** A day, in ISO 8601, chosen from a month of days. */
export function DayChoice({
  label,
  value,
  onChoose,
}: {
  readonly label: string;
  readonly value: string;
  readonly onChoose: (day: string) => void;
}) {
  return (
    <Popover label={label} words={`${label} ${dateWords(value)}`}>
      {(close) => (
        <Calendar
          value={value}
          onChoose={(day) => {
            onChoose(day);
            close();
          }}
        />
      )}
    </Popover>
  );
}
