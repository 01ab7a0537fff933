/**
 * A list, declared once: from it come what a request may ask for, the query, its pages and counts, the file one exports,
 * and the controls above the table.
 */
export interface ListDefinition {
  /** In the plural: `trackers`. */
  readonly name: string;
  /** By id, in the order shown and exported. */
  readonly columns: Readonly<Record<string, ListColumn>>;
  /** By the name they have in an address. */
  readonly filters: Readonly<Record<string, ListFilter>>;
  /** What typing looks in: `name or host`; absent where there is nothing to type. */
  readonly search?: string;
  /** By which it goes as long as nobody says otherwise; a column, or a key of its own. */
  readonly order: ListOrder;
}

export interface ListColumn {
  readonly words: string;
  readonly sorts?: boolean;
  /** Stands in exports alone. */
  readonly exportOnly?: boolean;
  /** Stands in no export. */
  readonly shownOnly?: boolean;
}

export type ListFilter =
  /** One of a few that are known beforehand, by value. */
  | { readonly kind: 'choice'; readonly words: string; readonly options: Readonly<Record<string, string>> }
  /** Exactly this value; which there are is counted. `most` characters. */
  | { readonly kind: 'value'; readonly words: string; readonly most: number }
  /** Rows of this day and later, or earlier: `from` and `to` both hold the day itself. */
  | { readonly kind: 'from' | 'to'; readonly words: string };

export interface ListOrder {
  readonly sort: string;
  readonly order: 'up' | 'down';
}

/** What somebody wants to see of a list. */
export interface ListWish extends ListOrder {
  readonly text: string;
  /** By the name of the filter; those that are set. */
  readonly filters: Readonly<Record<string, string>>;
}

export function sortableColumns({ columns }: ListDefinition): readonly string[] {
  return Object.entries(columns).flatMap(([id, c]) => (c.sorts ? [id] : []));
}

/** What was asked for, of an input that `listShape` let through; a filter that is empty is not set. */
export function listWish(list: ListDefinition, input: Readonly<Record<string, unknown>>): ListWish {
  const sort = String(input['sort'] ?? list.order.sort);
  const order = input['order'] ?? (sort === list.order.sort ? list.order.order : 'up');
  return {
    text: String(input['text'] ?? '').trim(),
    sort,
    order: order === 'down' ? 'down' : 'up',
    filters: Object.fromEntries(
      Object.keys(list.filters).flatMap((id) => {
        const value = input[id];
        return typeof value === 'string' && value !== '' ? [[id, value]] : [];
      }),
    ),
  };
}

/** For an address or a request: what differs from the list as it is by itself. */
export function wishQuery(
  list: ListDefinition,
  wish: ListWish,
): Readonly<Record<string, string | undefined>> {
  const usual = wish.sort === list.order.sort ? list.order.order : 'up';
  return {
    ...Object.fromEntries(Object.keys(list.filters).map((id) => [id, wish.filters[id]])),
    text: wish.text || undefined,
    sort: wish.sort === list.order.sort ? undefined : wish.sort,
    order: wish.order === usual ? undefined : wish.order,
  };
}

/** Columns that an export has, in order. */
export function exportColumns({ columns }: ListDefinition): readonly (readonly [string, ListColumn])[] {
  return Object.entries(columns).filter(([, c]) => !c.shownOnly);
}
