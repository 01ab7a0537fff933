import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type * as findingsApi from '../../../pages/api/access/findings.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';

export function loadFindings(asked: Readonly<Record<string, string | undefined>>) {
  return request<AnswerOf<typeof findingsApi.GET>>('GET', `/api/access/findings${queryString(asked)}`);
}

/** What is too broad: the first page, and what was counted of each kind. */
export function useFindings(asked: Readonly<Record<string, string | undefined>>) {
  return useQuery({
    queryKey: ['access-findings', asked],
    queryFn: () => loadFindings(asked),
    placeholderData: keepPreviousData,
  });
}
