import { useQuery } from '@tanstack/react-query';
import type { RunState } from '../../../core/runs/run.ts';
import type * as surveyApi from '../../../pages/api/holdings/surveys/[id]/index.ts';
import type * as namesApi from '../../../pages/api/holdings/surveys/names.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ListedSurvey } from '../../../server/holdings/surveys/surveys.ts';
import { request } from '../../desk/request.ts';
import { useRegister } from '../../lists/use-register.ts';

export function useSurveys() {
  return useRegister<ListedSurvey>('surveys', '/api/holdings/surveys');
}

const GOES_ON: readonly RunState[] = ['estimating', 'running', 'pausing', 'stopping'];

/** A survey; while it goes on, how far it is. */
export function useSurvey(id: string) {
  return useQuery({
    queryKey: ['survey-view', id],
    queryFn: () => request<AnswerOf<typeof surveyApi.GET>>('GET', `/api/holdings/surveys/${id}`),
    refetchInterval: ({ state }) =>
      state.data?.run && GOES_ON.includes(state.data.run.state) ? 1500 : false,
  });
}

export function useSurveyNames() {
  return useQuery({
    queryKey: ['survey-names'],
    queryFn: () => request<AnswerOf<typeof namesApi.GET>>('GET', '/api/holdings/surveys/names'),
    staleTime: 30_000,
  });
}
