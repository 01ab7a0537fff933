import { useQuery } from '@tanstack/react-query';
import type * as listingApi from '../../../pages/api/holdings/listings/[id]/index.ts';
import type * as listingsApi from '../../../pages/api/holdings/listings/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

/** `whole`: whether the account may see more than some sources. */
export function useListings(whole = true) {
  return useQuery({
    queryKey: ['listings'],
    queryFn: () => request<AnswerOf<typeof listingsApi.GET>>('GET', '/api/holdings/listings?size=500'),
    enabled: whole,
  });
}

export function useListing(id: string) {
  return useQuery({
    queryKey: ['listing-view', id],
    queryFn: () => request<AnswerOf<typeof listingApi.GET>>('GET', `/api/holdings/listings/${id}`),
  });
}
