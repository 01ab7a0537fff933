import { useQuery } from '@tanstack/react-query';
import type * as providersApi from '../../../pages/api/accounts/providers/index.ts';
import type * as providerApi from '../../../pages/api/accounts/providers/[id]/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

export function useProviders() {
  return useQuery({
    queryKey: ['providers'],
    queryFn: () => request<AnswerOf<typeof providersApi.GET>>('GET', '/api/accounts/providers'),
  });
}

export function useProvider(id: number) {
  return useQuery({
    queryKey: ['provider view', id],
    queryFn: () => request<AnswerOf<typeof providerApi.GET>>('GET', `/api/accounts/providers/${id}`),
  });
}
