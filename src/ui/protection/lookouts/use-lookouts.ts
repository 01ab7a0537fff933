import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { LookoutContent } from '../../../core/protection/lookouts/lookout-content.ts';
import type { LookoutNames } from '../../../core/protection/lookouts/lookout-sentence.ts';
import type * as outlookApi from '../../../pages/api/protection/lookouts/[id]/outlook.ts';
import type * as lookoutsApi from '../../../pages/api/protection/lookouts/index.ts';
import type * as namesApi from '../../../pages/api/protection/lookouts/names.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { RuleView } from '../../../server/rules/rule-view.ts';
import { queryString, request } from '../../desk/request.ts';
import { useLensVocabulary } from '../../holdings/offers.ts';

const PATH = '/api/protection/lookouts';

export function useLookouts() {
  return useQuery({
    queryKey: ['lookouts'],
    queryFn: () => request<AnswerOf<typeof lookoutsApi.GET>>('GET', PATH),
  });
}

export function useLookout(id: string) {
  return useQuery({
    queryKey: ['lookout', id],
    queryFn: () => request<RuleView<LookoutContent>>('GET', `/api/rules/lookout/${encodeURIComponent(id)}`),
  });
}

/** What can be named in lookouts; `undefined` until it is known. */
export function useLookoutNames(): LookoutNames | undefined {
  const items = useLensVocabulary();
  const { data } = useQuery({
    queryKey: ['lookout-names'],
    queryFn: () => request<AnswerOf<typeof namesApi.GET>>('GET', `${PATH}/names`),
  });
  return useMemo(() => (data && items ? { ...data, items } : undefined), [data, items]);
}

/** What the draft of this revision would have raised over the last days. */
export function useLookoutOutlook(id: string, revision: number | undefined, days: number) {
  return useQuery({
    queryKey: ['lookout-outlook', id, revision ?? 0, days],
    queryFn: () =>
      request<AnswerOf<typeof outlookApi.GET>>(
        'GET',
        `${PATH}/${encodeURIComponent(id)}/outlook${queryString({ days })}`,
      ),
    enabled: revision !== undefined,
    placeholderData: (before) => before,
  });
}
