import { keepPreviousData, useQuery } from '@tanstack/react-query';
import type { OwnRole } from '../../../core/accounts/roles/own-role.ts';
import type * as outlookApi from '../../../pages/api/accounts/roles/[id]/outlook.ts';
import type * as rolesApi from '../../../pages/api/accounts/roles/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { RuleView } from '../../../server/rules/rule-view.ts';
import { request } from '../../desk/request.ts';

export function useRoles(enabled = true) {
  return useQuery({
    queryKey: ['roles'],
    queryFn: () => request<AnswerOf<typeof rolesApi.GET>>('GET', '/api/accounts/roles'),
    enabled,
  });
}

export function useRole(id: string) {
  return useQuery({
    queryKey: ['role', id],
    queryFn: () => request<RuleView<OwnRole>>('GET', `/api/rules/role/${encodeURIComponent(id)}`),
  });
}

/** Of its draft, read again with each revision. */
export function useRoleOutlook(id: string, revision = 0) {
  return useQuery({
    queryKey: ['role-outlook', id, revision],
    queryFn: () =>
      request<AnswerOf<typeof outlookApi.GET>>(
        'GET',
        `/api/accounts/roles/${encodeURIComponent(id)}/outlook`,
      ),
    placeholderData: keepPreviousData,
  });
}
