import type { Subject } from '../../../core/cases/requests/person/subject.ts';
import { Field } from '../../parts/Field.tsx';
import css from '../cases.module.css';

/** What is typed of a person: lists one to a line or with commas. */
export interface SubjectText {
  readonly name: string;
  readonly otherNames: string;
  readonly emails: string;
  readonly phones: string;
  readonly born: string;
  readonly address: string;
  readonly numbers: string;
}

export const NO_TEXT: SubjectText = {
  name: '',
  otherNames: '',
  emails: '',
  phones: '',
  born: '',
  address: '',
  numbers: '',
};

export function textOf(s: Subject): SubjectText {
  return {
    ...{ name: s.name, born: s.born, address: s.address, otherNames: s.otherNames.join(', ') },
    ...{ emails: s.emails.join(', '), phones: s.phones.join(', '), numbers: s.numbers.join(', ') },
  };
}

export function subjectOf(t: SubjectText): Subject {
  const list = (text: string) =>
    text
      .split(/[,;\n]+/)
      .map((v) => v.trim())
      .filter(Boolean);
  return {
    ...{ name: t.name.trim(), born: t.born, address: t.address.trim(), otherNames: list(t.otherNames) },
    ...{ emails: list(t.emails), phones: list(t.phones), numbers: list(t.numbers) },
  };
}

const FIELDS: readonly (readonly [keyof SubjectText, string, string])[] = [
  ['name', 'Name', 'Given name first'],
  ['otherNames', 'Other names', 'Names they had before'],
  ['emails', 'E-mail', 'Several with commas'],
  ['numbers', 'Numbers', 'Customer, member, booking'],
  ['phones', 'Phones', ''],
  ['address', 'Postal address', ''],
];

/** By what somebody is recognised. */
export function SubjectFields({
  value,
  onChange,
  error,
}: {
  readonly value: SubjectText;
  readonly onChange: (value: SubjectText) => void;
  readonly error: (...fields: readonly string[]) => string | undefined;
}) {
  const wrong = (of: string) =>
    error(...['', '.0', '.1', '.2', '.3'].flatMap((n) => [`subject.${of}${n}`, `request.subject.${of}${n}`]));
  return (
    <div className={css['two']}>
      {FIELDS.map(([name, label, hint]) => (
        <Field key={name} label={label} error={wrong(name)} {...(hint ? { hint } : {})}>
          <input
            value={value[name]}
            maxLength={1000}
            onChange={(e) => onChange({ ...value, [name]: e.target.value })}
          />
        </Field>
      ))}
      <Field label="Born" error={wrong('born')}>
        <input
          type="date"
          value={value.born}
          onChange={(e) => onChange({ ...value, born: e.target.value })}
        />
      </Field>
    </div>
  );
}
