import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { WatchNames } from '../../../core/protection/lookouts/watch-lines.ts';
import type { ViewRuleContent } from '../../../core/protection/view/view-rule.ts';
import type * as outlookApi from '../../../pages/api/protection/view/[id]/outlook.ts';
import type * as viewApi from '../../../pages/api/protection/view/index.ts';
import type * as namesApi from '../../../pages/api/protection/view/names.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { RuleView } from '../../../server/rules/rule-view.ts';
import { queryString, request } from '../../desk/request.ts';
import { useLensVocabulary } from '../../holdings/offers.ts';

const PATH = '/api/protection/view';

export function useViewRules(enabled = true) {
  return useQuery({
    queryKey: ['view-rules'],
    queryFn: () => request<AnswerOf<typeof viewApi.GET>>('GET', PATH),
    enabled,
  });
}

export function useViewRule(id: string) {
  return useQuery({
    queryKey: ['view-rule', id],
    queryFn: () =>
      request<RuleView<ViewRuleContent>>('GET', `/api/rules/view%20rule/${encodeURIComponent(id)}`),
  });
}

/** What can be named in rules about what is kept; `undefined` until it is known. */
export function useWatchNames(): WatchNames | undefined {
  const items = useLensVocabulary();
  const { data } = useQuery({
    queryKey: ['watch-names'],
    queryFn: () => request<AnswerOf<typeof namesApi.GET>>('GET', `${PATH}/names`),
  });
  return useMemo(() => (data && items ? { ...data, items } : undefined), [data, items]);
}

/** What the draft of this revision would change about what is kept. */
export function useViewOutlook(id: string, revision: number | undefined, days: number) {
  return useQuery({
    queryKey: ['view-outlook', id, revision ?? 0, days],
    queryFn: () =>
      request<AnswerOf<typeof outlookApi.GET>>(
        'GET',
        `${PATH}/${encodeURIComponent(id)}/outlook${queryString({ days })}`,
      ),
    enabled: revision !== undefined,
    placeholderData: (before) => before,
  });
}
