import { useQuery } from '@tanstack/react-query';
import type * as shelfApi from '../../pages/api/holdings/shelf.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { request } from '../desk/request.ts';
import { Shelf } from '../parts/Shelf.tsx';
import { DETECTORS, RECORDS, SETS, SOURCES, SURVEYS } from './links.ts';

export function useShelfCounts() {
  return useQuery({
    queryKey: ['holdings-shelf'],
    queryFn: () => request<AnswerOf<typeof shelfApi.GET>>('GET', '/api/holdings/shelf'),
  });
}

/** The kinds of object in Holdings. */
export function HoldingsShelf({ what }: { readonly what: string | undefined }) {
  const { data } = useShelfCounts();
  const entry = (
    name: string,
    count: number | undefined,
    href: string,
    ...views: readonly (string | undefined)[]
  ) => ({
    name,
    count,
    href,
    chosen: views.includes(what),
  });
  return (
    <Shelf
      entries={[
        entry('What we hold', data?.items, '/holdings', undefined, 'items'),
        entry(
          'Systems and sources',
          data && data.systems + data.sources,
          SOURCES,
          'sources',
          'systems',
          'listings',
        ),
        entry('Surveys', data?.surveys, SURVEYS, 'surveys'),
        entry('Detectors', data?.detectors, DETECTORS, 'detectors', 'new'),
        entry('Records of processing', data?.activities, RECORDS, 'records'),
        entry('Labelled sets', data?.sets, SETS, 'sets'),
      ]}
    />
  );
}
