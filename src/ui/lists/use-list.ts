import { listWish, wishQuery, type ListDefinition, type ListWish } from '../../core/lists/list.ts';
import { setQuery, useDeskLocation } from '../desk/location.ts';
import { queryString } from '../desk/request.ts';
import type { Sort } from '../parts/DataTable.tsx';

export interface ShownList {
  readonly wish: ListWish;
  /** What is asked of the server for it; also the end of a query's key. */
  readonly asked: Readonly<Record<string, string | undefined>>;
  readonly sort: Sort;
  readonly onSort: (sort: Sort) => void;
  /** Sets filters, or the text typed; '' takes one away. */
  readonly set: (change: Readonly<Record<string, string | null>>) => void;
  /** Whether it shows less than all. */
  readonly narrowed: boolean;
  readonly showAll: () => void;
  /** Where it is exported as shown. */
  readonly exportHref: (path: string) => string;
}

/** A declared list as the address says it is filtered and sorted: back, reload and a shared link show the same rows. */
export function useList(list: ListDefinition): ShownList {
  const { query } = useDeskLocation();
  const wish = listWish(list, Object.fromEntries(query));
  const asked = wishQuery(list, wish);
  const clear = Object.fromEntries(['text', ...Object.keys(list.filters)].map((id) => [id, null]));
  return {
    wish,
    asked,
    sort: { key: wish.sort, order: wish.order },
    onSort: ({ key, order }) => {
      const { sort, order: told } = wishQuery(list, { ...wish, sort: key, order });
      setQuery({ sort: sort ?? null, order: told ?? null });
    },
    set: (change) =>
      setQuery(Object.fromEntries(Object.entries(change).map(([id, value]) => [id, value || null]))),
    narrowed: wish.text !== '' || Object.keys(wish.filters).length > 0,
    showAll: () => setQuery(clear),
    exportHref: (path) => `${path}${queryString(asked)}`,
  };
}
