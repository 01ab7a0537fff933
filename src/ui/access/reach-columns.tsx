import type { Strength as Is } from '../../core/access/reach/strength.ts';
import { dayText } from '../../core/text/day.ts';
import type { Column } from '../parts/DataTable.tsx';
import { Strength } from './Strength.tsx';
import css from './access.module.css';

interface ReachedRow {
  readonly strength: Is;
  readonly way: string;
  readonly otherWays: number;
  readonly lastUse: string | null;
}

/** How somebody reaches a place, at the end of a row that tells of both. */
export const REACH_COLUMNS: readonly Column<ReachedRow>[] = [
  { key: 'strength', title: 'Strength', width: '76px', cell: (r) => <Strength is={r.strength} /> },
  {
    key: 'way',
    title: 'By which way',
    fills: true,
    cell: (r) => (
      <span className={css['cut']} title={r.way}>
        {r.way}
        {r.otherWays > 0 && <span className={css['dim']}> and {r.otherWays} more</span>}
      </span>
    ),
  },
  {
    key: 'used',
    title: 'Last used',
    width: '96px',
    cell: (r) => (r.lastUse === null ? 'never' : dayText(r.lastUse)),
  },
];
