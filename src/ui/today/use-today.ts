import { useQuery } from '@tanstack/react-query';
import { useEffect } from 'react';
import type * as trendsApi from '../../pages/api/today/trends.ts';
import type { SinceVisit } from '../../server/desk/since-visit.ts';
import type { ListedItem, TodayPart } from '../../server/desk/today-list.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { readAgain } from '../desk/changed.ts';
import { request } from '../desk/request.ts';

export type TodayShow = TodayPart | 'changed';

export function useToday() {
  return useQuery({
    queryKey: ['today'],
    queryFn: () => request<readonly ListedItem[]>('GET', '/api/today'),
  });
}

/** Says that somebody is here, now and then while the window is looked at. */
export function useVisit(): void {
  useEffect(() => {
    const here = () => {
      if (document.visibilityState === 'visible')
        void request('POST', '/api/today/visit').then(
          () => readAgain([{ object: 'today', id: null }]),
          () => {
            // It is told again.
          },
        );
    };
    here();
    const again = setInterval(here, 5 * 60_000);
    return () => clearInterval(again);
  }, []);
}

export function useSinceVisit() {
  return useQuery({
    queryKey: ['since visit'],
    queryFn: () => request<SinceVisit>('GET', '/api/today/visit'),
  });
}

export function useTrends() {
  return useQuery({
    queryKey: ['today trends'],
    queryFn: () => request<AnswerOf<typeof trendsApi.GET>>('GET', '/api/today/trends?days=60'),
    staleTime: 60_000,
  });
}

type Named = Pick<ListedItem, 'kind' | 'key'>;

export async function changeItem(
  method: 'PUT' | 'DELETE',
  what: 'put-off' | 'hand-on' | '',
  { kind, key }: Named,
  more: object = {},
): Promise<void> {
  await request(method, `/api/today${what && `/${what}`}`, { kind, key, ...more });
  readAgain([{ object: 'today', id: null }], true);
}
