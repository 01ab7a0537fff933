import { numberWords } from '../desk/words.ts';
import css from './Segments.module.css';

export interface Segment {
  readonly value: string;
  readonly words: string;
  readonly count?: number;
}

/** A few ways of which one is taken; each press takes effect at once. */
export function Segments({
  label,
  value,
  options,
  onChange,
}: {
  readonly label: string;
  readonly value: string;
  readonly options: readonly Segment[];
  readonly onChange: (value: string) => void;
}) {
  return (
    <div role="group" aria-label={label} className={css['segments']}>
      {options.map((o) => (
        <button
          key={o.value}
          type="button"
          aria-pressed={o.value === value}
          onClick={() => onChange(o.value)}
        >
          {o.words}
          {o.count !== undefined && ` ${numberWords(o.count)}`}
        </button>
      ))}
    </div>
  );
}
