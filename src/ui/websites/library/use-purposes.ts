import { useQuery } from '@tanstack/react-query';
import type * as websitesPurposesApi from '../../../pages/api/websites/purposes.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

export function usePurposes() {
  return useQuery({
    queryKey: ['purposes'],
    queryFn: () => request<AnswerOf<typeof websitesPurposesApi.GET>>('GET', '/api/websites/purposes'),
  });
}
