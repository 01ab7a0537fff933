import { useQuery } from '@tanstack/react-query';
import type * as tablesApi from '../../../pages/api/holdings/sources/[id]/tables.ts';
import type * as sourceApi from '../../../pages/api/holdings/sources/[id]/index.ts';
import type * as sourcesApi from '../../../pages/api/holdings/sources/index.ts';
import type * as stewardsApi from '../../../pages/api/holdings/stewards.ts';
import type * as systemsApi from '../../../pages/api/holdings/systems/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

/** As many as a register shows at once. */
const SIZE = 500;

export function useSystems() {
  return useQuery({
    queryKey: ['systems'],
    queryFn: () => request<AnswerOf<typeof systemsApi.GET>>('GET', `/api/holdings/systems?size=${SIZE}`),
  });
}

export function useSources() {
  return useQuery({
    queryKey: ['sources'],
    queryFn: () => request<AnswerOf<typeof sourcesApi.GET>>('GET', `/api/holdings/sources?size=${SIZE}`),
  });
}

export function useSource(id: string) {
  return useQuery({
    queryKey: ['source-view', id],
    queryFn: () => request<AnswerOf<typeof sourceApi.GET>>('GET', `/api/holdings/sources/${id}`),
  });
}

export function useStewards() {
  return useQuery({
    queryKey: ['stewards'],
    queryFn: () => request<AnswerOf<typeof stewardsApi.GET>>('GET', '/api/holdings/stewards'),
    staleTime: 60_000,
  });
}

/** Tables of a database with their columns, asked of it now. */
export function useTables(source: string, wanted: boolean) {
  return useQuery({
    queryKey: ['source-tables', source],
    enabled: wanted,
    staleTime: 60_000,
    queryFn: () => request<AnswerOf<typeof tablesApi.GET>>('GET', `/api/holdings/sources/${source}/tables`),
  });
}
