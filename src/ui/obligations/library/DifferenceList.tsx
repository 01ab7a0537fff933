import css from '../obligations.module.css';

export interface ShownDifference {
  readonly key: string;
  readonly words: string;
  readonly is: 'new' | 'gone' | 'changed';
  readonly fields: readonly { readonly field: string; readonly before: string; readonly after: string }[];
}

const IS_WORDS = { new: '+ new', gone: '– gone', changed: '◇ changed' } as const;

/** What another version says otherwise, field by field. */
export function DifferenceList({ differences }: { readonly differences: readonly ShownDifference[] }) {
  return (
    <ul className={css['plain']}>
      {differences.map((d) => (
        <li key={d.key}>
          {IS_WORDS[d.is]}: {d.words}
          {d.fields.map((f) => (
            <small key={f.field}>
              {f.field}: <del>{f.before}</del> <ins>{f.after}</ins>
            </small>
          ))}
        </li>
      ))}
    </ul>
  );
}
