import type { Schedule } from '../../core/schedule/schedule.ts';
import { Slot } from './Slot.tsx';

const WEEKDAYS = ['Monday', 'Tuesday', 'Wednesday', 'Thursday', 'Friday', 'Saturday', 'Sunday'];

interface ScheduleSlotsProps {
  readonly label: string;
  /** `null` where nothing is done by itself. */
  readonly schedule: Schedule | null;
  /** What is read then: `when somebody asks`. */
  readonly idle: string;
  /** The time zone that a new schedule begins with. */
  readonly zone: string;
  readonly error?: string | undefined;
  readonly fixed: boolean;
  readonly onSet: (next: Schedule | null) => void;
}

/** When something is done by itself, as slots in a sentence. */
export function ScheduleSlots({ label, schedule, idle, zone, error, fixed, onSet }: ScheduleSlotsProps) {
  return (
    <>
      <Slot
        label={label}
        words={schedule ? `by itself every ${schedule.every}` : idle}
        error={error}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: schedule?.every ?? '',
          options: [
            { value: '', words: idle },
            { value: 'day', words: 'by itself every day' },
            { value: 'week', words: 'by itself every week' },
            { value: 'month', words: 'by itself every month' },
            { value: 'quarter', words: 'by itself every quarter' },
          ],
          set: (every) =>
            onSet(
              every === ''
                ? null
                : {
                    weekday: 1,
                    day: 1,
                    at: '03:00',
                    zone,
                    ...schedule,
                    every: every as Schedule['every'],
                  },
            ),
        }}
      />
      {schedule && <When schedule={schedule} fixed={fixed} onSet={onSet} />}
    </>
  );
}

function When({
  schedule,
  fixed,
  onSet,
}: {
  readonly schedule: Schedule;
  readonly fixed: boolean;
  readonly onSet: (next: Schedule) => void;
}) {
  return (
    <>
      {schedule.every === 'week' && (
        <>
          {' on '}
          <Slot
            label="Day of the week"
            words={WEEKDAYS[schedule.weekday - 1] ?? ''}
            fixed={fixed}
            edit={{
              kind: 'choice',
              value: String(schedule.weekday),
              options: WEEKDAYS.map((words, i) => ({ value: String(i + 1), words })),
              set: (v) => onSet({ ...schedule, weekday: Number(v) }),
            }}
          />
        </>
      )}
      {(schedule.every === 'month' || schedule.every === 'quarter') && (
        <>
          {' on day '}
          <Slot
            label="Day of the month"
            words={String(schedule.day)}
            fixed={fixed}
            edit={{
              kind: 'number',
              unit: 'of the month; a shorter month takes its last day',
              least: 1,
              most: 31,
              value: schedule.day,
              set: (day) => onSet({ ...schedule, day }),
            }}
          />
        </>
      )}
      {' at '}
      <Slot
        label="Time"
        words={schedule.at}
        fixed={fixed}
        edit={{
          kind: 'text',
          most: 5,
          value: schedule.at,
          set: (at) => onSet({ ...schedule, at: at.trim() }),
        }}
      />
      {' in '}
      <Slot
        label="Time zone"
        words={schedule.zone}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: schedule.zone,
          options: Intl.supportedValuesOf('timeZone').map((zone) => ({ value: zone, words: zone })),
          set: (zone) => onSet({ ...schedule, zone }),
        }}
      />
    </>
  );
}
