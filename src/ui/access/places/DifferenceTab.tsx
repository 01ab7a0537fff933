import { useQuery } from '@tanstack/react-query';
import type * as differenceApi from '../../../pages/api/access/places/[key]/difference.ts';
import { dayText } from '../../../core/text/day.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { personLink } from '../links.ts';

/** Who reaches a place more, or less, than on another day. */
export function DifferenceTab({ place }: { readonly place: string }) {
  const { query } = useDeskLocation();
  const then = query.get('then') ?? '';
  const found = useQuery({
    queryKey: ['access-place', place, 'difference', then],
    enabled: then !== '',
    retry: false,
    queryFn: () =>
      request<AnswerOf<typeof differenceApi.GET>>(
        'GET',
        `/api/access/places/${place}/difference${queryString({ with: then })}`,
      ),
  });
  return (
    <>
      <p>
        Who reaches it today, beside the end of{' '}
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
      {found.data && (
        <>
          <p>
            {countWords(found.data.before, 'person', 'people')} reached it on {dayText(then)},{' '}
            {found.data.after} do today.
          </p>
          {found.data.came.length + found.data.went.length + found.data.changed.length > 0 && (
            <FigureTable
              columns={['Person', 'What', 'By which way']}
              rows={[
                ...found.data.came.map((r) => ({
                  key: `+${r.key}`,
                  cells: [<a href={personLink(r.key)}>{r.name}</a>, `+ ${r.strength}`, r.way],
                })),
                ...found.data.went.map((r) => ({
                  key: `-${r.key}`,
                  cells: [<a href={personLink(r.key)}>{r.name}</a>, `− ${r.strength}`, r.way],
                })),
                ...found.data.changed.map((r) => ({
                  key: `~${r.key}`,
                  cells: [<a href={personLink(r.key)}>{r.name}</a>, `${r.from} → ${r.to}`, ''],
                })),
              ]}
            />
          )}
        </>
      )}
    </>
  );
}
