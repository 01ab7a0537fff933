import { useQuery } from '@tanstack/react-query';
import type * as activitiesApi from '../../../pages/api/holdings/activities/index.ts';
import type * as contradictionsApi from '../../../pages/api/holdings/activities/contradictions.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

export function useActivities() {
  return useQuery({
    queryKey: ['activities'],
    queryFn: () => request<AnswerOf<typeof activitiesApi.GET>>('GET', '/api/holdings/activities?size=500'),
  });
}

export function useContradictions() {
  return useQuery({
    queryKey: ['contradictions'],
    queryFn: () =>
      request<AnswerOf<typeof contradictionsApi.GET>>('GET', '/api/holdings/activities/contradictions'),
    retry: false,
  });
}
