import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useVirtualizer } from '@tanstack/react-virtual';
import { Columns3, Download } from 'lucide-react';
import { useContext, useEffect, useLayoutEffect, useRef, useState, type ReactNode } from 'react';
import type { Page } from '../../server/store/page.ts';
import { useRemembered } from '../desk/preferences.ts';
import { ScrollContext } from '../desk/scroll-context.ts';
import { Failure } from './states.tsx';
import css from './DataTable.module.css';

export interface Column<R> {
  readonly key: string;
  readonly title: string;
  /** The whole of a title that had to be cut short. */
  readonly about?: string;
  readonly cell: (row: R) => ReactNode;
  readonly sorts?: boolean;
  readonly align?: 'right' | 'centre';
  readonly width?: string;
  /** Takes the room that the others leave, and is cut where that is too little. */
  readonly fills?: boolean;
  /** Can be taken out of view. */
  readonly optional?: boolean;
  /** Out of view until somebody takes it in. */
  readonly hidden?: boolean;
}

export interface Sort {
  readonly key: string;
  readonly order: 'up' | 'down';
}

interface DataTableProps<R> {
  readonly label: string;
  readonly name: string;
  readonly columns: readonly Column<R>[];
  readonly queryKey: readonly unknown[];
  readonly load: (after: string | undefined) => Promise<Page<R>>;
  readonly rowKey: (row: R) => string;
  readonly rowName: (row: R) => string;
  readonly sort?: Sort | undefined;
  readonly onSort?: ((sort: Sort) => void) | undefined;
  readonly opened?: string | undefined;
  readonly onOpen?: ((row: R) => void) | undefined;
  readonly selected?: ReadonlySet<string>;
  readonly onSelect?: ((selected: ReadonlySet<string>) => void) | undefined;
  /** Filters, at the left of the bar. */
  readonly filters?: ReactNode;
  /** What can be done with the selected rows. */
  readonly bulk?: ReactNode;
  readonly exportHref?: string | undefined;
  readonly empty: ReactNode;
}

const ROW = 32;

/**
 * A table of any length: pages come from the server as it is scrolled, only rows in view are drawn, and the sheet
 * scrolls it. Arrows move between rows, Space selects, Enter opens.
 */
export function DataTable<R>(props: DataTableProps<R>) {
  const { columns, label, name, rowKey, rowName, sort, onSort, opened, onOpen, selected, onSelect } = props;
  const [hidden, setHidden] = useRemembered<readonly string[]>(
    `columns.${name}`,
    columns.filter((c) => c.hidden).map((c) => c.key),
  );
  const query = useInfiniteQuery({
    queryKey: props.queryKey,
    queryFn: ({ pageParam }) => props.load(pageParam),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: keepPreviousData,
  });
  const rows = query.data?.pages.flatMap((p) => p.rows) ?? [];
  const shown = columns.filter((c) => !(c.optional && hidden.includes(c.key)));
  const body = useRef<HTMLTableSectionElement>(null);
  const scroll = useContext(ScrollContext);
  const [margin, setMargin] = useState(0);
  useLayoutEffect(() => {
    if (body.current && scroll.current)
      setMargin(
        body.current.getBoundingClientRect().top -
          scroll.current.getBoundingClientRect().top +
          scroll.current.scrollTop,
      );
  }, [scroll, rows.length]);
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroll.current,
    estimateSize: () => ROW,
    overscan: 12,
    scrollMargin: margin,
    getItemKey: (i) => (rows[i] ? rowKey(rows[i]) : i),
  });
  const items = virtual.getVirtualItems();
  const last = items.at(-1)?.index ?? 0;
  const { hasNextPage, isFetchingNextPage, fetchNextPage } = query;
  useEffect(() => {
    if (hasNextPage && !isFetchingNextPage && last >= rows.length - 20) void fetchNextPage();
  }, [last, rows.length, hasNextPage, isFetchingNextPage, fetchNextPage]);
  const [active, setActive] = useState(0);
  const at = Math.min(active, Math.max(0, rows.length - 1));
  const focusRow = (i: number) => {
    const next = Math.max(0, Math.min(rows.length - 1, i));
    setActive(next);
    virtual.scrollToIndex(next);
    requestAnimationFrame(() => body.current?.querySelector<HTMLElement>(`[data-index="${next}"]`)?.focus());
  };
  const toggle = (key: string) => {
    const next = new Set(selected);
    if (!next.delete(key)) next.add(key);
    onSelect?.(next);
  };
  const keys = (e: React.KeyboardEvent, row: R, i: number) => {
    if (e.target !== e.currentTarget) return;
    if (e.key === 'ArrowDown') focusRow(i + 1);
    else if (e.key === 'ArrowUp') focusRow(i - 1);
    else if (e.key === 'Home') focusRow(0);
    else if (e.key === 'End') focusRow(rows.length - 1);
    else if (e.key === 'Enter' && onOpen) onOpen(row);
    else if (e.key === ' ' && onSelect) toggle(rowKey(row));
    else return;
    e.preventDefault();
  };
  const before = items.length ? (items[0]?.start ?? 0) - margin : 0;
  const after = items.length ? virtual.getTotalSize() - ((items.at(-1)?.end ?? 0) - margin) : 0;
  const span = shown.length + (onSelect ? 1 : 0);
  const allSelected = rows.length > 0 && rows.every((r) => selected?.has(rowKey(r)));
  return (
    <div className={css['wrap']}>
      <div className={css['bar']}>
        {selected && selected.size > 0 ? (
          <div className={css['bulk']}>
            <b>{selected.size} selected</b>
            {props.bulk}
            <button type="button" className={css['link']} onClick={() => onSelect?.(new Set())}>
              Select none
            </button>
          </div>
        ) : (
          props.filters
        )}
        <span className={css['space']} />
        {columns.some((c) => c.optional) && (
          <ColumnChooser columns={columns} hidden={hidden} onChange={setHidden} />
        )}
        {props.exportHref && (
          <a className={css['tool']} href={props.exportHref} download>
            <Download size={13} aria-hidden /> Export
          </a>
        )}
      </div>
      {query.isError ? (
        <Failure error={query.error} onRetry={() => void query.refetch()} />
      ) : rows.length === 0 && !query.isPending ? (
        props.empty
      ) : (
        <table
          className={css['table']}
          aria-label={label}
          aria-rowcount={hasNextPage ? -1 : rows.length + 1}
          aria-busy={query.isFetching}
        >
          <thead>
            <tr>
              {onSelect && (
                <th className={css['check']}>
                  <input
                    type="checkbox"
                    aria-label="Select all that are loaded"
                    checked={allSelected}
                    onChange={() => onSelect(allSelected ? new Set() : new Set(rows.map(rowKey)))}
                  />
                </th>
              )}
              {shown.map((c) => (
                <th
                  key={c.key}
                  scope="col"
                  data-optional={c.optional || undefined}
                  style={{
                    width: c.width,
                    // Beside a column that takes what the others leave, a width alone gives way.
                    minWidth: c.width?.endsWith('px') ? c.width : undefined,
                    textAlign: c.align === 'centre' ? 'center' : c.align,
                  }}
                  aria-sort={
                    sort?.key === c.key ? (sort.order === 'up' ? 'ascending' : 'descending') : undefined
                  }
                >
                  {c.sorts && onSort ? (
                    <button
                      type="button"
                      className={css['sort']}
                      onClick={() =>
                        onSort({
                          key: c.key,
                          order: sort?.key === c.key && sort.order === 'up' ? 'down' : 'up',
                        })
                      }
                    >
                      {c.title}
                      <span aria-hidden>
                        {sort?.key === c.key ? (sort.order === 'up' ? ' ↑' : ' ↓') : ''}
                      </span>
                    </button>
                  ) : c.about ? (
                    <abbr title={c.about} className={css['short']}>
                      {c.title}
                    </abbr>
                  ) : (
                    c.title
                  )}
                </th>
              ))}
            </tr>
          </thead>
          <tbody ref={body}>
            {before > 0 && (
              <tr aria-hidden>
                <td colSpan={span} style={{ height: before, padding: 0, border: 0 }} />
              </tr>
            )}
            {items.map((item) => {
              const row = rows[item.index] as R;
              const key = rowKey(row);
              return (
                <tr
                  key={key}
                  ref={virtual.measureElement}
                  data-index={item.index}
                  aria-rowindex={item.index + 2}
                  aria-selected={onSelect ? (selected?.has(key) ?? false) : undefined}
                  data-opened={key === opened || undefined}
                  data-opens={onOpen ? true : undefined}
                  tabIndex={item.index === at ? 0 : -1}
                  aria-label={rowName(row)}
                  onFocus={() => setActive(item.index)}
                  onKeyDown={(e) => keys(e, row, item.index)}
                  onClick={(e) => {
                    if (!(e.target as HTMLElement).closest('button, a, input, select, [role="dialog"]'))
                      onOpen?.(row);
                  }}
                >
                  {onSelect && (
                    <td className={css['check']}>
                      <input
                        type="checkbox"
                        tabIndex={-1}
                        aria-label={`Select ${rowName(row)}`}
                        checked={selected?.has(key) ?? false}
                        onChange={() => toggle(key)}
                      />
                    </td>
                  )}
                  {shown.map((c) => (
                    <td
                      key={c.key}
                      data-optional={c.optional || undefined}
                      data-fills={c.fills || undefined}
                      style={{ textAlign: c.align === 'centre' ? 'center' : c.align }}
                    >
                      {c.cell(row)}
                    </td>
                  ))}
                </tr>
              );
            })}
            {after > 0 && (
              <tr aria-hidden>
                <td colSpan={span} style={{ height: after, padding: 0, border: 0 }} />
              </tr>
            )}
          </tbody>
        </table>
      )}
      {(query.isPending || isFetchingNextPage) && <p className={css['loading']}>Loading …</p>}
    </div>
  );
}

function ColumnChooser<R>({
  columns,
  hidden,
  onChange,
}: {
  readonly columns: readonly Column<R>[];
  readonly hidden: readonly string[];
  readonly onChange: (hidden: readonly string[]) => void;
}) {
  return (
    <details className={css['chooser']}>
      <summary className={css['tool']}>
        <Columns3 size={13} aria-hidden /> Columns
      </summary>
      <div className={css['choices']}>
        {columns
          .filter((c) => c.optional)
          .map((c) => (
            <label key={c.key}>
              <input
                type="checkbox"
                checked={!hidden.includes(c.key)}
                onChange={() =>
                  onChange(hidden.includes(c.key) ? hidden.filter((k) => k !== c.key) : [...hidden, c.key])
                }
              />
              {c.title}
            </label>
          ))}
      </div>
    </details>
  );
}
