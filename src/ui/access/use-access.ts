import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type * as changeApi from '../../pages/api/access/changes/[id]/index.ts';
import type * as changesApi from '../../pages/api/access/changes/index.ts';
import type * as grantsApi from '../../pages/api/access/places/[key]/grants.ts';
import type * as pairApi from '../../pages/api/access/pair.ts';
import type * as personApi from '../../pages/api/access/people/[key]/index.ts';
import type * as placeApi from '../../pages/api/access/places/[key]/index.ts';
import type * as placesApi from '../../pages/api/access/places/index.ts';
import type * as shelfApi from '../../pages/api/access/shelf.ts';
import type * as sourcesApi from '../../pages/api/access/sources/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { queryString, request } from '../desk/request.ts';

export function useAccessShelf() {
  return useQuery({
    queryKey: ['access-shelf'],
    queryFn: () => request<AnswerOf<typeof shelfApi.GET>>('GET', '/api/access/shelf'),
  });
}

/** What lies right below a place, or the tops of all; as a person sees it, where one is named. */
export function loadPlaces(key: string | undefined, person?: string, on?: string) {
  return request<AnswerOf<typeof placesApi.GET>>(
    'GET',
    `/api/access/places${queryString({ key, person, on })}`,
  );
}

export function usePlaces(person?: string, on?: string) {
  return useQuery({
    queryKey: ['access-places', person ?? '', on ?? ''],
    queryFn: () => loadPlaces(undefined, person, on),
  });
}

/** A place, today or as it was at the end of a day. */
export function usePlace(key: string, on?: string) {
  return useQuery({
    queryKey: ['access-place', key, on ?? ''],
    enabled: key !== '',
    queryFn: () =>
      request<AnswerOf<typeof placeApi.GET>>('GET', `/api/access/places/${key}${queryString({ on })}`),
    placeholderData: keepPreviousData,
  });
}

export function useGrants(key: string, on?: string) {
  return useQuery({
    queryKey: ['access-grants', key, on ?? ''],
    queryFn: () =>
      request<AnswerOf<typeof grantsApi.GET>>(
        'GET',
        `/api/access/places/${key}/grants${queryString({ on })}`,
      ),
  });
}

export function usePair(person: string | undefined, place: string | undefined, on?: string) {
  return useQuery({
    queryKey: ['access-pair', person ?? '', place ?? '', on ?? ''],
    enabled: person !== undefined && place !== undefined,
    queryFn: () =>
      request<AnswerOf<typeof pairApi.GET>>('GET', `/api/access/pair${queryString({ person, place, on })}`),
  });
}

export function usePerson(key: string, on?: string) {
  return useQuery({
    queryKey: ['access-person', key, on ?? ''],
    enabled: key !== '',
    queryFn: () =>
      request<AnswerOf<typeof personApi.GET>>('GET', `/api/access/people/${key}${queryString({ on })}`),
  });
}

export function useChanges() {
  return useQuery({
    queryKey: ['access-changes'],
    queryFn: () => request<AnswerOf<typeof changesApi.GET>>('GET', '/api/access/changes'),
  });
}

export function useChange(id: string) {
  return useQuery({
    queryKey: ['access-change', id],
    queryFn: () => request<AnswerOf<typeof changeApi.GET>>('GET', `/api/access/changes/${id}`),
    refetchInterval: ({ state: { data } }) => (data?.state === 'running' ? 1500 : false),
  });
}

export function useAccessSources() {
  return useQuery({
    queryKey: ['access-sources'],
    queryFn: () => request<AnswerOf<typeof sourcesApi.GET>>('GET', '/api/access/sources'),
  });
}
