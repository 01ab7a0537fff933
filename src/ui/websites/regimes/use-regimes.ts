import { useQuery } from '@tanstack/react-query';
import type * as regimesApi from '../../../pages/api/websites/regimes/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

export function useRegimes() {
  return useQuery({
    queryKey: ['regimes'],
    queryFn: () => request<AnswerOf<typeof regimesApi.GET>>('GET', '/api/websites/regimes'),
  });
}
