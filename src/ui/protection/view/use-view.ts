import { useQuery } from '@tanstack/react-query';
import type { ViewRuleContent } from '../../../core/protection/view/view-rule.ts';
import type * as outlookApi from '../../../pages/api/protection/view/[id]/outlook.ts';
import type * as viewApi from '../../../pages/api/protection/view/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { RuleView } from '../../../server/rules/rule-view.ts';
import { queryString, request } from '../../desk/request.ts';

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
