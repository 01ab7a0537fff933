import type { Action } from '../../core/accounts/action.ts';
import type { Account } from '../../core/accounts/authority.ts';
import type { Days } from '../../core/evidence/reports/report.ts';
import { exportColumns, type ListDefinition } from '../../core/lists/list.ts';
import type { Context } from '../context.ts';
import type { Cell } from '../http/csv.ts';
import type { WishInput } from '../lists/list-source.ts';
import { everyRow, type Page } from '../store/page.ts';

export interface AskedRows extends Days {
  /** The line of a lens. */
  readonly lens: string;
}

/** Rows of an area that a report can tell of. */
export interface Reportable {
  /** Its area and a name: `cases.requests`. */
  readonly id: string;
  readonly name: string;
  /** What whoever makes it, and whoever gets it, must be allowed to do. */
  readonly see: Action;
  /** What it can be narrowed by. */
  readonly takes: readonly ('days' | 'lens')[];
  /** What is asked for, in lines at its head. Throws a RefusedError for what cannot be. */
  readonly about?: (asked: AskedRows) => readonly string[];
  /** The words of the columns, then row by row as they are read, never all at once. */
  readonly rows: (ctx: Context, account: Account, asked: AskedRows) => AsyncIterable<readonly Cell[]>;
}

const PAGE = 500;

/** A list that is declared, as its export has it; days narrow it where it has filters `from` and `to`. */
export function listReportable<Row>(
  words: Pick<Reportable, 'id' | 'name' | 'see'>,
  list: ListDefinition,
  from: (ctx: Context) => Promise<{
    readonly cells: (row: Row) => Readonly<Record<string, Cell>>;
    readonly load: (wish: WishInput, after: string | undefined, size: number) => Promise<Page<Row>>;
  }>,
): Reportable {
  const columns = exportColumns(list);
  const hasDays = list.filters['from']?.kind === 'from' && list.filters['to']?.kind === 'to';
  return {
    ...words,
    takes: hasDays ? ['days'] : [],
    async *rows(ctx, _account, asked) {
      yield columns.map(([, c]) => c.words);
      const { cells, load } = await from(ctx);
      const wish = hasDays ? { from: asked.from ?? '', to: asked.to ?? '' } : {};
      for await (const row of everyRow((after) => load(wish, after, PAGE))) {
        const its = cells(row);
        yield columns.map(([id]) => its[id] ?? '');
      }
    },
  };
}
