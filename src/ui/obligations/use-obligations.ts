import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type * as assessmentApi from '../../pages/api/obligations/assessments/[id]/index.ts';
import type * as assessmentsApi from '../../pages/api/obligations/assessments/index.ts';
import type * as differencesApi from '../../pages/api/obligations/library/[id]/differences.ts';
import type * as frameworkApi from '../../pages/api/obligations/library/[id]/index.ts';
import type * as startApi from '../../pages/api/obligations/library/[id]/start.ts';
import type * as libraryApi from '../../pages/api/obligations/library/index.ts';
import type * as measureApi from '../../pages/api/obligations/measures/[key]/index.ts';
import type * as measuresApi from '../../pages/api/obligations/measures/index.ts';
import type * as figuresApi from '../../pages/api/figures.ts';
import type * as peopleApi from '../../pages/api/obligations/people.ts';
import type * as systemsApi from '../../pages/api/obligations/systems.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { queryString, request } from '../desk/request.ts';

const API = '/api/obligations';

export function useAssessments() {
  return useQuery({
    queryKey: ['assessments'],
    queryFn: () => request<AnswerOf<typeof assessmentsApi.GET>>('GET', `${API}/assessments`),
  });
}

export function useAssessment(id: string) {
  return useQuery({
    queryKey: ['assessment-view', id],
    queryFn: () =>
      request<AnswerOf<typeof assessmentApi.GET>>('GET', `${API}/assessments/${encodeURIComponent(id)}`),
  });
}

export function useFrameworks() {
  return useQuery({
    queryKey: ['frameworks'],
    queryFn: () => request<AnswerOf<typeof libraryApi.GET>>('GET', `${API}/library`),
  });
}

export function useFramework(id: string, beside?: string) {
  return useQuery({
    queryKey: ['framework', id, beside ?? ''],
    placeholderData: keepPreviousData,
    queryFn: () =>
      request<AnswerOf<typeof frameworkApi.GET>>(
        'GET',
        `${API}/library/${encodeURIComponent(id)}${queryString({ beside })}`,
      ),
  });
}

/** What starting it would come to, in a cycle that runs or in a new one. */
export function useStartPreview(id: string, cycle: number | undefined) {
  return useQuery({
    queryKey: ['framework-start', id, cycle ?? 0],
    enabled: id !== '',
    queryFn: () =>
      request<AnswerOf<typeof startApi.GET>>(
        'GET',
        `${API}/library/${encodeURIComponent(id)}/start${queryString({ cycle })}`,
      ),
    placeholderData: keepPreviousData,
  });
}

export function useDifferences(id: string, from: string | undefined) {
  return useQuery({
    queryKey: ['framework-differences', id, from ?? ''],
    enabled: from !== undefined,
    queryFn: () =>
      request<AnswerOf<typeof differencesApi.GET>>(
        'GET',
        `${API}/library/${encodeURIComponent(id)}/differences${queryString({ from })}`,
      ),
    staleTime: Infinity,
  });
}

export function useMeasures() {
  return useQuery({
    queryKey: ['measures'],
    queryFn: () => request<AnswerOf<typeof measuresApi.GET>>('GET', `${API}/measures`),
  });
}

export function useMeasure(key: string) {
  return useQuery({
    queryKey: ['measure-view', key],
    queryFn: () =>
      request<AnswerOf<typeof measureApi.GET>>('GET', `${API}/measures/${encodeURIComponent(key)}`),
  });
}

export function useWorkPeople() {
  return useQuery({
    queryKey: ['work-people'],
    queryFn: () => request<AnswerOf<typeof peopleApi.GET>>('GET', `${API}/people`),
  });
}

/** Systems that an assessment can be about. */
export function useAssessableSystems() {
  return useQuery({
    queryKey: ['assessable-systems'],
    queryFn: () => request<AnswerOf<typeof systemsApi.GET>>('GET', `${API}/systems`),
  });
}

/** Figures of the program with their last 90 days. */
export function useTestedFigures() {
  return useQuery({
    queryKey: ['tested-figures'],
    queryFn: () =>
      request<AnswerOf<typeof figuresApi.GET>>('GET', `/api/figures${queryString({ days: 90 })}`),
  });
}
