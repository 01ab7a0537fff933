import { useRef } from 'react';
import type { ListDefinition, ListFilter } from '../../core/lists/list.ts';
import { Button } from '../parts/Button.tsx';
import { RangeField } from '../parts/RangeField.tsx';
import { SelectField } from '../parts/SelectField.tsx';
import { Segments } from '../parts/Segments.tsx';
import type { ShownList } from './use-list.ts';
import css from './lists.module.css';

interface ListFiltersProps {
  readonly list: ListDefinition;
  readonly shown: ShownList;
  /** Filters that have a control here, in order; all by default. */
  readonly only?: readonly string[];
  /** Values of a filter that are told by the server. */
  readonly values?: Readonly<Record<string, readonly string[]>>;
  /** How a value of a filter reads, where it does not stand for itself. */
  readonly names?: Readonly<Record<string, (value: string) => string>>;
  /** How many rows each choice of a filter has; '' for all of them. */
  readonly counts?: Readonly<Record<string, Readonly<Record<string, number>>>>;
  /** Choices that are left out as long as no row has them. */
  readonly rare?: readonly string[];
}

/** The controls above a declared list: what is typed, and each filter as its kind asks for. */
export function ListFilters({
  list,
  shown,
  only,
  values = {},
  names = {},
  counts = {},
  rare = [],
}: ListFiltersProps) {
  const typed = useRef<HTMLInputElement>(null);
  const showAll = () => {
    shown.showAll();
    // What is typed is the field's own, so that a space at its end is not lost on the way through the address.
    if (typed.current) typed.current.value = '';
  };
  const ids = only ?? Object.keys(list.filters);
  return (
    <>
      {list.search && (
        <input
          ref={typed}
          type="search"
          className={css['search']}
          aria-label={`Filter ${list.name} by ${list.search}`}
          placeholder={`Filter by ${list.search}`}
          style={{ width: `${Math.max(22, list.search.length + 12)}ch` }}
          defaultValue={shown.wish.text}
          onChange={(e) => shown.set({ text: e.target.value })}
        />
      )}
      {ids.map((id) => {
        const filter = list.filters[id];
        return (
          filter && (
            <FilterControl
              key={id}
              filter={filter}
              value={shown.wish.filters[id] ?? ''}
              values={values[id] ?? []}
              name={names[id] ?? ((v) => v)}
              counts={counts[id]}
              rare={rare}
              onChange={(value) => shown.set({ [id]: value })}
            />
          )
        );
      })}
      {ids.includes('from') && ids.includes('to') && (
        <RangeField
          label="When"
          value={{ from: shown.wish.filters['from'] ?? '', to: shown.wish.filters['to'] ?? '' }}
          onChange={({ from, to }) => shown.set({ from, to })}
        />
      )}
      {shown.narrowed && (
        <Button kind="quiet" onClick={showAll}>
          Show all
        </Button>
      )}
    </>
  );
}

function FilterControl({
  filter,
  value,
  values,
  name,
  counts,
  rare,
  onChange,
}: {
  readonly filter: ListFilter;
  readonly value: string;
  readonly values: readonly string[];
  readonly name: (value: string) => string;
  readonly counts: Readonly<Record<string, number>> | undefined;
  readonly rare: readonly string[];
  readonly onChange: (value: string) => void;
}) {
  switch (filter.kind) {
    case 'choice':
      return (
        <Segments
          label={filter.words}
          value={value}
          options={[
            { value: '', words: 'All' },
            ...Object.entries(filter.options).map(([v, words]) => ({ value: v, words })),
          ].flatMap(({ value: v, words }) => {
            const n = counts?.[v];
            if (n === 0 && rare.includes(v) && v !== value) return [];
            return [{ value: v, words, ...(n === undefined ? {} : { count: n }) }];
          })}
          onChange={onChange}
        />
      );
    case 'value':
      return (
        <SelectField
          label={filter.words}
          value={value}
          options={[
            { value: '', words: filter.words },
            ...[...new Set([...(value === '' ? [] : [value]), ...values])].map((v) => ({
              value: v,
              words: name(v),
            })),
          ]}
          onChange={onChange}
        />
      );
    // Both ends stand in one field.
    case 'from':
    case 'to':
      return null;
  }
}
