import { useQuery } from '@tanstack/react-query';
import type * as lensesApi from '../../../pages/api/holdings/lenses/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

export function useLenses() {
  return useQuery({
    queryKey: ['lenses'],
    queryFn: () => request<AnswerOf<typeof lensesApi.GET>>('GET', '/api/holdings/lenses'),
    staleTime: 10_000,
  });
}
