import type { Option } from './ChoiceEditor.tsx';
import { SelectField } from './SelectField.tsx';
import css from './ChoiceField.module.css';

/** One of some values in a form, with its label above as fields have it. */
export function ChoiceField(props: {
  readonly label: string;
  readonly options: readonly Option[];
  readonly value: string;
  readonly onChange: (value: string) => void;
}) {
  return (
    <div className={css['field']}>
      {/* The button says both, so that the label is not read twice. */}
      <span aria-hidden>{props.label}</span>
      <SelectField {...props} />
    </div>
  );
}
