import { useId, type ReactElement, cloneElement } from 'react';
import css from './Field.module.css';

interface FieldProps {
  readonly label: string;
  readonly hint?: string;
  readonly error?: string | undefined;
  readonly children: ReactElement<{ id?: string; 'aria-describedby'?: string; 'aria-invalid'?: boolean }>;
}

/** A control with its label, and what is wrong beside it. */
export function Field({ label, hint, error, children }: FieldProps) {
  const id = useId();
  return (
    <div className={css['field']}>
      <label htmlFor={id}>{label}</label>
      {cloneElement(children, {
        id,
        'aria-describedby': error || hint ? `${id}-about` : undefined,
        'aria-invalid': error ? true : undefined,
      })}
      {(error || hint) && (
        <p id={`${id}-about`} className={error ? css['error'] : css['hint']}>
          {error ? `◆ ${error}` : hint}
        </p>
      )}
    </div>
  );
}
