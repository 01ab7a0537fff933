import { useQuery } from '@tanstack/react-query';
import type * as reviewApi from '../../../pages/api/access/reviews/[id]/index.ts';
import type * as reviewsApi from '../../../pages/api/access/reviews/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

export function useReviews() {
  return useQuery({
    queryKey: ['access-reviews'],
    queryFn: () => request<AnswerOf<typeof reviewsApi.GET>>('GET', '/api/access/reviews'),
  });
}

export function useReview(id: string) {
  return useQuery({
    queryKey: ['access-review', id],
    queryFn: () => request<AnswerOf<typeof reviewApi.GET>>('GET', `/api/access/reviews/${id}`),
  });
}
