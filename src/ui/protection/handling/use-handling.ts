import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { HandlingNames, HandlingRuleContent } from '../../../core/protection/handling/handling-rule.ts';
import type * as groupsApi from '../../../pages/api/protection/groups/index.ts';
import type * as outlookApi from '../../../pages/api/protection/handling/[id]/outlook.ts';
import type * as rulesApi from '../../../pages/api/protection/handling/index.ts';
import type * as namesApi from '../../../pages/api/protection/handling/names.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { RuleView } from '../../../server/rules/rule-view.ts';
import { queryString, request } from '../../desk/request.ts';
import { useLensVocabulary } from '../../holdings/offers.ts';

export function useHandlingRules() {
  return useQuery({
    queryKey: ['handling-rules'],
    queryFn: () => request<AnswerOf<typeof rulesApi.GET>>('GET', '/api/protection/handling'),
  });
}

export function useHandlingRule(id: string) {
  return useQuery({
    queryKey: ['handling-rule', id],
    queryFn: () =>
      request<RuleView<HandlingRuleContent>>('GET', `/api/rules/handling%20rule/${encodeURIComponent(id)}`),
  });
}

/** What can be named in handling rules; `undefined` until it is known. */
export function useHandlingNames(): HandlingNames | undefined {
  const items = useLensVocabulary();
  const { data } = useQuery({
    queryKey: ['handling-names'],
    queryFn: () => request<AnswerOf<typeof namesApi.GET>>('GET', '/api/protection/handling/names'),
  });
  return useMemo(() => (data && items ? { ...data, items } : undefined), [data, items]);
}

/** What the draft of this revision would have done over the last days. */
export function useHandlingOutlook(id: string, revision: number | undefined, days: number) {
  return useQuery({
    queryKey: ['handling-outlook', id, revision ?? 0, days],
    queryFn: () =>
      request<AnswerOf<typeof outlookApi.GET>>(
        'GET',
        `/api/protection/handling/${id}/outlook${queryString({ days })}`,
      ),
    enabled: revision !== undefined,
    placeholderData: (before) => before,
  });
}

export function useNamedGroups() {
  return useQuery({
    queryKey: ['named-groups'],
    queryFn: () => request<AnswerOf<typeof groupsApi.GET>>('GET', '/api/protection/groups'),
  });
}
