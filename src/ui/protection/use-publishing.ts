import { useQuery } from '@tanstack/react-query';
import type { PublicationContent, PublicationNames } from '../../core/protection/publishing/publication.ts';
import type * as programsApi from '../../pages/api/accounts/programs/index.ts';
import type * as staffApi from '../../pages/api/accounts/staff/index.ts';
import type * as offeredApi from '../../pages/api/protection/offered.ts';
import type * as outlookApi from '../../pages/api/protection/publications/[id]/outlook.ts';
import type * as publicationsApi from '../../pages/api/protection/publications/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { queryString, request } from '../desk/request.ts';

export function usePublications() {
  return useQuery({
    queryKey: ['publications'],
    queryFn: () => request<AnswerOf<typeof publicationsApi.GET>>('GET', '/api/protection/publications'),
  });
}

export function usePublication(id: string) {
  return useQuery({
    queryKey: ['publication', id],
    queryFn: () =>
      request<RuleView<PublicationContent>>('GET', `/api/rules/publication/${encodeURIComponent(id)}`),
  });
}

/** What can be named in publications. */
export function usePublicationNames() {
  return useQuery({
    queryKey: ['publication-names'],
    queryFn: () => request<PublicationNames>('GET', '/api/protection/publications/names'),
  });
}

export function usePublicationOutlook(id: string, revision: number) {
  return useQuery({
    queryKey: ['publication-outlook', id, revision],
    queryFn: () =>
      request<AnswerOf<typeof outlookApi.GET>>(
        'GET',
        `/api/protection/publications/${encodeURIComponent(id)}/outlook`,
      ),
    placeholderData: (before) => before,
  });
}

export function findStaff(text: string) {
  return request<AnswerOf<typeof staffApi.GET>>('GET', `/api/accounts/staff${queryString({ text })}`);
}

/** How many people are known; with a text, those whose name or address has it. */
export function useStaff(text: string) {
  return useQuery({
    queryKey: ['staff', text],
    queryFn: () => findStaff(text),
    placeholderData: (before) => before,
  });
}

/** What one person is offered; nothing is asked where none is named. */
export function useOffered(person: string) {
  return useQuery({
    queryKey: ['offered', person],
    enabled: person !== '',
    retry: false,
    queryFn: () =>
      request<AnswerOf<typeof offeredApi.GET>>('GET', `/api/protection/offered${queryString({ person })}`),
  });
}

export function usePrograms() {
  return useQuery({
    queryKey: ['programs'],
    queryFn: () => request<AnswerOf<typeof programsApi.GET>>('GET', '/api/accounts/programs'),
  });
}
