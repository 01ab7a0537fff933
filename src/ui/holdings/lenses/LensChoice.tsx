import { countWords } from '../../desk/words.ts';
import { SelectField } from '../../parts/SelectField.tsx';
import { useLenses } from './use-lenses.ts';

/** A lens to begin with, by its line: the one somebody came from, everything, or one that is kept. */
export function LensChoice({
  label,
  asked,
  line,
  onChange,
}: {
  readonly label: string;
  /** The line of the lens that somebody came from; '' for none. */
  readonly asked: string;
  readonly line: string;
  readonly onChange: (line: string) => void;
}) {
  const lenses = useLenses();
  return (
    <SelectField
      label={label}
      value={line}
      options={[
        ...(asked ? [{ value: asked, words: 'The lens you came from' }] : []),
        { value: 'everything', words: 'Everything we hold' },
        ...(lenses.data ?? [])
          .filter((l) => l.line !== asked && l.line !== 'everything')
          .map((l) => ({ value: l.line, words: `${l.name}, ${countWords(l.items, 'item')}` })),
      ]}
      onChange={onChange}
    />
  );
}
