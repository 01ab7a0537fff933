import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Subject } from '../../../core/cases/requests/person/subject.ts';
import type { ItemAct, RequestAct } from '../../../core/cases/requests/request-act.ts';
import type { LetterId } from '../../../core/cases/requests/letters/request-letter.ts';
import type { RequestPolicy } from '../../../core/cases/requests/request-policy.ts';
import type * as requestApi from '../../../pages/api/cases/requests/[id]/index.ts';
import type * as itemApi from '../../../pages/api/cases/requests/[id]/items/[item].ts';
import type * as letterApi from '../../../pages/api/cases/requests/[id]/letters/[letter].ts';
import type * as countsApi from '../../../pages/api/cases/requests/counts.ts';
import type * as requestsApi from '../../../pages/api/cases/requests/index.ts';
import type * as taskApi from '../../../pages/api/cases/tasks/[id].ts';
import type * as tasksApi from '../../../pages/api/cases/tasks/index.ts';
import type * as peopleApi from '../../../pages/api/cases/tasks/people.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { TaskAct } from '../../../server/cases/requests/tasks/tasks.ts';
import { queryString, request } from '../../desk/request.ts';

const PATH = '/api/cases/requests';

export function loadRequests(asked: Readonly<Record<string, string | undefined>>, after?: string) {
  return request<AnswerOf<typeof requestsApi.GET>>('GET', `${PATH}${queryString({ ...asked, after })}`);
}

export function useOpenRequests() {
  return useQuery({
    queryKey: ['requests', 'open'],
    queryFn: () => loadRequests({ open: 'open', size: '200' }),
  });
}

export function useRequestCounts(asked: Readonly<Record<string, string | undefined>>) {
  return useQuery({
    queryKey: ['request-counts', asked],
    queryFn: () =>
      request<AnswerOf<typeof countsApi.GET>>('GET', `${PATH}/counts${queryString({ ...asked })}`),
    placeholderData: (before) => before,
  });
}

export type ViewedRequest = AnswerOf<typeof requestApi.GET>;

export function useRequest(id: string) {
  return useQuery({
    queryKey: ['request', id],
    queryFn: () => request<ViewedRequest>('GET', `${PATH}/${encodeURIComponent(id)}`),
  });
}

/** What changes one request: each puts the request as it stands then in view. */
export function useActs(id: string) {
  const client = useQueryClient();
  const put = async (answer: Promise<ViewedRequest>) => {
    client.setQueryData(['request', id], await answer);
    await client.invalidateQueries({ queryKey: ['requests'] });
  };
  return {
    act: (does: RequestAct) => put(request<ViewedRequest>('POST', `${PATH}/${id}`, { does })),
    agree: () => put(request<ViewedRequest>('POST', `${PATH}/${id}/agree`, {})),
    setSubject: (subject: Subject) =>
      put(request<ViewedRequest>('POST', `${PATH}/${id}/subject`, { subject })),
    actOnItem: async (item: string, does: ItemAct) => {
      const answer = await request<ViewedItem>('POST', `${PATH}/${id}/items/${item}`, { does });
      client.setQueryData(['request-item', id, item], answer);
      await client.invalidateQueries({ queryKey: ['request', id] });
      await client.invalidateQueries({ queryKey: ['request-tasks'] });
    },
    actOnTask: async (task: number, does: TaskAct) => {
      await request('POST', `/api/cases/tasks/${task}`, { does });
      await client.invalidateQueries({ queryKey: ['request', id] });
    },
  };
}

export type ViewedItem = AnswerOf<typeof itemApi.GET>;

export function useRequestItem(id: string, item: string) {
  return useQuery({
    queryKey: ['request-item', id, item],
    queryFn: () => request<ViewedItem>('GET', `${PATH}/${id}/items/${item}`),
  });
}

export function draftLetter(id: string, letter: LetterId, reason: string) {
  return request<AnswerOf<typeof letterApi.GET>>(
    'GET',
    `${PATH}/${id}/letters/${encodeURIComponent(letter)}${queryString({ reason })}`,
  );
}

export function useTasks() {
  return useQuery({
    queryKey: ['request-tasks'],
    queryFn: () => request<AnswerOf<typeof tasksApi.GET>>('GET', '/api/cases/tasks'),
  });
}

export function useTask(id: string | null) {
  return useQuery({
    queryKey: ['request-tasks', id],
    enabled: id !== null,
    queryFn: () => request<AnswerOf<typeof taskApi.GET>>('GET', `/api/cases/tasks/${id ?? ''}`),
  });
}

/** Whom a task can be handed on to. */
export function useTaskPeople() {
  return useQuery({
    queryKey: ['request-tasks', 'people'],
    queryFn: () => request<AnswerOf<typeof peopleApi.GET>>('GET', '/api/cases/tasks/people'),
  });
}

export type { RequestPolicy };
