import type { ReactNode } from 'react';
import { STRENGTHS } from '../../core/access/reach/strength.ts';
import { setQuery } from '../desk/location.ts';
import { queryString } from '../desk/request.ts';
import { SelectField } from '../parts/SelectField.tsx';
import css from './access.module.css';

/** What narrows a table of reach: a part of a name, and how strong it is at least. */
export function ReachTools({
  what,
  text,
  onText,
  strength,
  children,
}: {
  /** What is listed: `people`. */
  readonly what: string;
  readonly text: string;
  readonly onText: (text: string) => void;
  readonly strength: string | undefined;
  readonly children?: ReactNode;
}) {
  return (
    <span className={css['tools']}>
      <input
        type="search"
        aria-label={`Filter ${what}`}
        placeholder={`Filter ${what}`}
        value={text}
        onChange={(e) => onText(e.target.value)}
      />
      <SelectField
        label="Strength"
        value={strength ?? ''}
        options={[
          { value: '', words: 'any strength' },
          ...STRENGTHS.map((s) => ({ value: s, words: `${s} or more` })),
        ]}
        onChange={(s) => setQuery({ strength: s })}
      />
      {children}
    </span>
  );
}

/** The same rows as other files than CSV. */
export function AlsoAs({
  path,
  asked,
}: {
  readonly path: string;
  readonly asked: Readonly<Record<string, string | undefined>>;
}) {
  return (
    <p className={css['note']}>
      The same as <a href={`${path}/export${queryString({ ...asked, as: 'xlsx' })}`}>a workbook</a> or{' '}
      <a href={`${path}/export${queryString({ ...asked, as: 'pdf' })}`}>a paper (PDF)</a>
    </p>
  );
}
