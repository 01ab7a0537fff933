import { useQuery } from '@tanstack/react-query';
import type { ReactNode } from 'react';
import { dayText } from '../../core/text/day.ts';
import { setQuery, useDeskLocation } from '../desk/location.ts';
import { queryString, request } from '../desk/request.ts';
import { Button } from '../parts/Button.tsx';
import { FigureTable } from '../parts/FigureTable.tsx';
import { Slot } from '../parts/Slot.tsx';
import { Failure, Loading } from '../parts/states.tsx';

/** What differs between a past day and today, of people at a place or of places of a person. */
export interface Differs<R> {
  readonly before: number;
  readonly after: number;
  readonly came: readonly (R & { readonly strength: string; readonly way?: string })[];
  readonly went: readonly (R & { readonly strength: string; readonly way?: string })[];
  readonly changed: readonly (R & { readonly from: string; readonly to: string })[];
}

/** What was reached on a past day beside what is today; the day stands in the address. */
export function ThenAndNow<R extends { readonly key: string }>({
  path,
  name,
  row,
  words,
}: {
  /** Of the object that is compared, below `/api/access/`. */
  readonly path: string;
  /** The heading of the rows. */
  readonly name: string;
  readonly row: (row: R) => ReactNode;
  readonly words: (before: number, then: string, after: number) => string;
}) {
  const { query } = useDeskLocation();
  const then = query.get('then') ?? '';
  const found = useQuery({
    queryKey: ['access-place', path, 'difference', then],
    enabled: then !== '',
    retry: false,
    queryFn: () => request<Differs<R>>('GET', `/api/access/${path}/difference${queryString({ with: then })}`),
  });
  const d = found.data;
  return (
    <>
      <p>
        Today, beside the end of{' '}
        <Slot
          label="The day to compare with"
          words={then === '' ? 'a past day' : dayText(then)}
          edit={{ kind: 'date', value: then, set: (day) => setQuery({ then: day }) }}
        />
        {then !== '' && (
          <Button kind="quiet" onClick={() => setQuery({ on: then, tab: null, then: null })}>
            See it as it was then
          </Button>
        )}
      </p>
      {then !== '' && found.isError && <Failure error={found.error} />}
      {then !== '' && found.isLoading && <Loading what="that day" />}
      {d && (
        <>
          <p>{words(d.before, dayText(then), d.after)}</p>
          {d.came.length + d.went.length + d.changed.length === 0 ? (
            <p>✓ The same, and as strong.</p>
          ) : (
            <FigureTable
              columns={[name, 'What', 'By which way']}
              rows={[
                ...d.came.map((r) => ({ key: `+${r.key}`, cells: [row(r), `+ ${r.strength}`, r.way ?? ''] })),
                ...d.went.map((r) => ({ key: `-${r.key}`, cells: [row(r), `− ${r.strength}`, r.way ?? ''] })),
                ...d.changed.map((r) => ({ key: `~${r.key}`, cells: [row(r), `${r.from} → ${r.to}`, ''] })),
              ]}
            />
          )}
        </>
      )}
    </>
  );
}
