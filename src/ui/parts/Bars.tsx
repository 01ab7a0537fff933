import { useState } from 'react';
import { numberWords } from '../desk/words.ts';
import css from './Bars.module.css';

export interface Bar {
  readonly key: string;
  readonly name: string;
  readonly count: number;
  /** What is read instead of the number. */
  readonly words?: string;
}

interface BarsProps {
  readonly label: string;
  readonly bars: readonly Bar[];
  readonly chosen?: string | undefined;
  /** Absent where there is nothing to choose. */
  readonly onChoose?: ((key: string) => void) | undefined;
  /** How many are shown at first. */
  readonly few?: number;
}

/** How something is shared out: a name, a bar and a number a line. */
export function Bars({ label, bars, chosen, onChoose, few = 6 }: BarsProps) {
  const [all, setAll] = useState(false);
  const most = Math.max(1, ...bars.map((b) => b.count));
  const shown = all ? bars : bars.slice(0, few);
  return (
    <>
      <ul className={css['bars']} aria-label={label}>
        {shown.map((b) => (
          <li key={b.key}>
            <button
              type="button"
              className={css['bar']}
              disabled={!onChoose}
              aria-pressed={onChoose ? b.key === chosen : undefined}
              aria-label={`${b.name}: ${b.words ?? numberWords(b.count)}`}
              onClick={() => onChoose?.(b.key)}
            >
              <span className={css['name']} title={b.name}>
                {b.name}
              </span>
              <span className={css['track']}>
                <span className={css['fill']} style={{ width: `${Math.max(1, (b.count / most) * 100)}%` }} />
              </span>
              <span className={css['count']}>{b.words ?? numberWords(b.count)}</span>
            </button>
          </li>
        ))}
      </ul>
      {bars.length > few && (
        <button type="button" className={`${css['bar']} ${css['more']}`} onClick={() => setAll(!all)}>
          {all ? 'Fewer' : `${bars.length - few} more`}
        </button>
      )}
    </>
  );
}
