import { ChoiceEditor, type Option } from './ChoiceEditor.tsx';
import { Popover } from './Popover.tsx';

/** One of some values: typing narrows them where they are many, arrows move, Enter takes one. */
export function SelectField({
  label,
  options,
  value,
  onChange,
}: {
  readonly label: string;
  readonly options: readonly Option[];
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  return (
    <Popover label={label} words={options.find((o) => o.value === value)?.words ?? value}>
      {(close) => (
        <ChoiceEditor
          label={label}
          options={options}
          value={value}
          onChoose={(v) => {
            onChange(v);
            close();
          }}
        />
      )}
    </Popover>
  );
}
