import type { ReactNode } from 'react';
import type { UnitCount } from '../../core/protection/handling/unit-counts.ts';
import { countWords, numberWords } from '../desk/words.ts';
import css from './protection.module.css';

export interface Counted {
  readonly key: string;
  readonly name: ReactNode;
  readonly n: number;
}

/** How many of each, a row each. */
export function CountTable({ label, rows }: { readonly label: string; readonly rows: readonly Counted[] }) {
  return (
    <table className={css['counts']} aria-label={label}>
      <tbody>
        {rows.map((r) => (
          <tr key={r.key}>
            <th scope="row">{r.name}</th>
            <td>{numberWords(r.n)}</td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

/** Acts by unit; those of few people stand together. */
export function UnitTable({
  label,
  units,
  most,
}: {
  readonly label: string;
  readonly units: readonly UnitCount[];
  readonly most: number;
}) {
  return (
    <>
      <CountTable
        label={label}
        rows={units.slice(0, most).map((u) => ({
          ...{ key: u.unit, n: u.acts },
          name: `${u.unit || 'other units together'}, ${countWords(u.people, 'person', 'people')}`,
        }))}
      />
      <p className={css['note']}>Units of fewer than five people are told together.</p>
    </>
  );
}
