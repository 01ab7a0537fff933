import { useState } from 'react';
import { countWords } from '../desk/words.ts';
import css from './LongCode.module.css';

const SHORT = 90;

/** The beginning of a code that is too long to be read in a sentence. */
export const shortCode = (code: string): string => (code.length > SHORT ? `${code.slice(0, SHORT)}…` : code);

/** A code in a sentence; a long one shows its beginning, and opens to the whole. */
export function LongCode({ code }: { readonly code: string }) {
  const [open, setOpen] = useState(false);
  if (code.length <= SHORT) return <code>{code}</code>;
  return (
    <>
      <code className={open ? css['whole'] : undefined}>{open ? code : shortCode(code)}</code>{' '}
      <button type="button" className={css['toggle']} aria-expanded={open} onClick={() => setOpen(!open)}>
        {open ? 'show its beginning only' : `show all ${countWords(code.length, 'character')}`}
      </button>
    </>
  );
}
