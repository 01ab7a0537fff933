import { useQuery } from '@tanstack/react-query';
import type * as hookApi from '../../../pages/api/accounts/hooks/[id]/index.ts';
import type * as hooksApi from '../../../pages/api/accounts/hooks/index.ts';
import type * as tokensApi from '../../../pages/api/accounts/tokens/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

export type Token = AnswerOf<typeof tokensApi.GET>[number];
export type OpenHook = AnswerOf<typeof hookApi.GET>;

/** Whether it still opens something. */
export function isInForce({ endedAt, endsAt }: Token): boolean {
  return endedAt === null && Date.parse(endsAt) > Date.now();
}

export function useTokens() {
  return useQuery({
    queryKey: ['tokens'],
    queryFn: () => request<AnswerOf<typeof tokensApi.GET>>('GET', '/api/accounts/tokens'),
  });
}

/** Webhooks, and what they can be told of. */
export function useHooks(enabled: boolean) {
  return useQuery({
    queryKey: ['event hooks'],
    queryFn: () => request<AnswerOf<typeof hooksApi.GET>>('GET', '/api/accounts/hooks'),
    enabled,
  });
}

/** A webhook with its calls; read again while one waits. */
export function useHook(id: number) {
  return useQuery({
    queryKey: ['event hook', String(id)],
    queryFn: () => request<OpenHook>('GET', `/api/accounts/hooks/${id}`),
    refetchInterval: (q) =>
      q.state.data?.calls.some((c) => c.state === 'waiting' || c.state === 'sending') ? 2000 : false,
  });
}
