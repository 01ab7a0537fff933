import { useQuery } from '@tanstack/react-query';
import type * as shelfApi from '../../pages/api/cases/shelf.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { request } from '../desk/request.ts';
import { Shelf } from '../parts/Shelf.tsx';
import { DOSSIERS, INCIDENTS, REQUESTS, TASKS } from './links.ts';

/** The kinds of object in Cases. */
export function CasesShelf({
  what,
  sees,
  seesDossiers,
}: {
  readonly what: string;
  readonly sees: boolean;
  readonly seesDossiers: boolean;
}) {
  const { data } = useQuery({
    queryKey: ['cases-shelf'],
    queryFn: () => request<AnswerOf<typeof shelfApi.GET>>('GET', '/api/cases/shelf'),
  });
  return (
    <Shelf
      entries={[
        ...(sees
          ? [
              { name: 'Requests', count: data?.requests, href: REQUESTS, chosen: what === 'requests' },
              { name: 'Incidents', count: data?.incidents, href: INCIDENTS, chosen: what === 'incidents' },
            ]
          : []),
        ...(seesDossiers
          ? (['impact', 'vendors', 'ai'] as const).map((kind) => ({
              ...{
                name: DOSSIERS[kind].many,
                count: data?.[kind],
                href: DOSSIERS[kind].place,
                chosen: what === kind,
              },
            }))
          : []),
        { name: 'My tasks', count: data?.tasks, href: TASKS, chosen: what === 'tasks' },
      ]}
    />
  );
}
