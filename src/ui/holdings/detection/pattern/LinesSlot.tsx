import { Slot } from '../../../parts/Slot.tsx';
import { linesOf, some } from './slot-text.ts';

interface LinesSlotProps {
  readonly label: string;
  readonly lines: readonly string[];
  /** What stands there where there are none. */
  readonly none?: string;
  readonly hint: string;
  readonly fixed: boolean;
  readonly error?: string | undefined;
  /** What is wrong with what was written; empty where nothing is. */
  readonly check?: (text: string) => string;
  readonly set: (lines: string[]) => void;
}

/** A slot that holds many words or values, one a line while they are edited. */
export function LinesSlot({ label, lines, none = '', hint, fixed, error, check, set }: LinesSlotProps) {
  return (
    <Slot
      label={label}
      words={lines.length > 0 ? some(lines) : none}
      fixed={fixed}
      error={error}
      edit={{
        kind: 'text',
        long: true,
        most: 200_000,
        value: lines.join('\n'),
        hint,
        ...(check && { check }),
        set: (t) => set(linesOf(t)),
      }}
    />
  );
}

export const atLeastOneWord = (text: string) => (linesOf(text).length === 0 ? 'At least one word.' : '');
export const WORD_LINES = 'One word or phrase a line; a star at its end stands for any ending.';
