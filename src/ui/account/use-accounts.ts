import { useQuery } from '@tanstack/react-query';
import type * as accountsApi from '../../pages/api/accounts/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { request } from '../desk/request.ts';

export function useAccounts(enabled = true) {
  return useQuery({
    queryKey: ['accounts'],
    queryFn: () => request<AnswerOf<typeof accountsApi.GET>>('GET', '/api/accounts'),
    enabled,
  });
}
