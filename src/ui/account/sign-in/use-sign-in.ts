import { useQuery } from '@tanstack/react-query';
import type * as factorsApi from '../../../pages/api/accounts/factors.ts';
import type * as outlookApi from '../../../pages/api/accounts/sign-in-policy/outlook.ts';
import type { SignInPolicy } from '../../../core/accounts/sign-in/policy.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

/** What one signs in with. */
export function useFactors() {
  return useQuery({
    queryKey: ['factors'],
    queryFn: () => request<AnswerOf<typeof factorsApi.GET>>('GET', '/api/accounts/factors'),
  });
}

/** What a policy would come to for everybody. */
export function usePolicyOutlook(content: SignInPolicy | undefined) {
  return useQuery({
    queryKey: ['sign-in outlook', JSON.stringify(content)],
    queryFn: () =>
      request<AnswerOf<typeof outlookApi.POST>>('POST', '/api/accounts/sign-in-policy/outlook', { content }),
    enabled: content !== undefined,
    placeholderData: (before) => before,
  });
}
