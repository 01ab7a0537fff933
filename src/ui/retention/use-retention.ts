import { keepPreviousData, useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { HoldContent } from '../../core/retention/holds/hold.ts';
import type { LawBoundDraft } from '../../core/retention/rules/law-bound.ts';
import type { RetentionNames, RetentionRuleDraft } from '../../core/retention/rules/retention-rule.ts';
import type * as reviewsApi from '../../pages/api/retention/reviews/index.ts';
import type * as copiesApi from '../../pages/api/retention/disposals/[id]/copies.ts';
import type * as clocksApi from '../../pages/api/retention/clocks/index.ts';
import type * as disposalApi from '../../pages/api/retention/disposals/[id]/index.ts';
import type * as disposalsApi from '../../pages/api/retention/disposals/index.ts';
import type * as holdOutlookApi from '../../pages/api/retention/holds/[id]/outlook.ts';
import type * as holdsApi from '../../pages/api/retention/holds/index.ts';
import type * as itemApi from '../../pages/api/retention/items/[id]/index.ts';
import type * as lawApi from '../../pages/api/retention/law/index.ts';
import type * as namesApi from '../../pages/api/retention/names.ts';
import type * as outlookApi from '../../pages/api/retention/rules/[id]/outlook.ts';
import type * as rulesApi from '../../pages/api/retention/rules/index.ts';
import type * as scheduleApi from '../../pages/api/retention/schedule/index.ts';
import type * as shelfApi from '../../pages/api/retention/shelf.ts';
import type * as totalsApi from '../../pages/api/retention/totals.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { queryString, request } from '../desk/request.ts';
import { useLensVocabulary } from '../holdings/offers.ts';

export function useRetentionShelf() {
  return useQuery({
    queryKey: ['retention-shelf'],
    queryFn: () => request<AnswerOf<typeof shelfApi.GET>>('GET', '/api/retention/shelf'),
  });
}

export function useRetentionRules() {
  return useQuery({
    queryKey: ['retention-rules'],
    queryFn: () => request<AnswerOf<typeof rulesApi.GET>>('GET', '/api/retention/rules'),
  });
}

export function useRetentionRule(id: string) {
  return useQuery({
    queryKey: ['retention-rule', id],
    queryFn: () =>
      request<RuleView<RetentionRuleDraft>>('GET', `/api/rules/retention%20rule/${encodeURIComponent(id)}`),
  });
}

export function useRetentionTotals() {
  return useQuery({
    queryKey: ['retention-totals'],
    queryFn: () => request<AnswerOf<typeof totalsApi.GET>>('GET', '/api/retention/totals'),
    placeholderData: keepPreviousData,
  });
}

/** What a rule would do if its draft of this revision were in force; nothing is asked before it has a clock. */
export function useRetentionOutlook(id: string, revision: number | undefined, isWhole: boolean) {
  return useQuery({
    queryKey: ['retention-outlook', id, revision ?? 0],
    enabled: revision !== undefined && isWhole,
    queryFn: () =>
      request<AnswerOf<typeof outlookApi.GET>>(
        'GET',
        `/api/retention/rules/${encodeURIComponent(id)}/outlook`,
      ),
    placeholderData: keepPreviousData,
  });
}

export function useLawBounds() {
  return useQuery({
    queryKey: ['law-bounds'],
    queryFn: () => request<AnswerOf<typeof lawApi.GET>>('GET', '/api/retention/law'),
  });
}

export function useLawBound(id: string) {
  return useQuery({
    queryKey: ['law-bound', id],
    queryFn: () => request<RuleView<LawBoundDraft>>('GET', `/api/rules/bound/${encodeURIComponent(id)}`),
  });
}

export function useHolds() {
  return useQuery({
    queryKey: ['holds'],
    queryFn: () => request<AnswerOf<typeof holdsApi.GET>>('GET', '/api/retention/holds'),
  });
}

export function useHold(id: string) {
  return useQuery({
    queryKey: ['hold', id],
    queryFn: () => request<RuleView<HoldContent>>('GET', `/api/rules/hold/${encodeURIComponent(id)}`),
  });
}

/** What a hold covers as its draft of this revision stands. */
export function useHoldOutlook(id: string, revision: number | undefined) {
  return useQuery({
    queryKey: ['hold-outlook', id, revision ?? 0],
    enabled: revision !== undefined,
    queryFn: () =>
      request<AnswerOf<typeof holdOutlookApi.GET>>(
        'GET',
        `/api/retention/holds/${encodeURIComponent(id)}/outlook`,
      ),
    placeholderData: keepPreviousData,
  });
}

export function useClocks() {
  return useQuery({
    queryKey: ['clocks'],
    queryFn: () => request<AnswerOf<typeof clocksApi.GET>>('GET', '/api/retention/clocks'),
  });
}

/** Why an item is here and when it goes; with a rule, as if that were in force as its draft stands. */
export function useItemRetention(id: string, rule?: string) {
  return useQuery({
    queryKey: ['item-retention', id, rule ?? ''],
    queryFn: () =>
      request<AnswerOf<typeof itemApi.GET>>('GET', `/api/retention/items/${id}${queryString({ rule })}`),
  });
}

/** What can be named in rules, bounds and holds; `undefined` until it is known. */
export function useRetentionNames(): RetentionNames | undefined {
  const names = useQuery({
    queryKey: ['retention-names'],
    queryFn: () => request<AnswerOf<typeof namesApi.GET>>('GET', '/api/retention/names'),
  });
  const items = useLensVocabulary();
  return useMemo(() => (names.data && items ? { ...names.data, items } : undefined), [names.data, items]);
}

/** How far rules reach, and what they leave out. */
export function useReviews() {
  return useQuery({
    queryKey: ['retention-reviews'],
    queryFn: () => request<AnswerOf<typeof reviewsApi.GET>>('GET', '/api/retention/reviews'),
  });
}

export function useSchedule() {
  return useQuery({
    queryKey: ['retention-schedule'],
    queryFn: () => request<AnswerOf<typeof scheduleApi.GET>>('GET', '/api/retention/schedule'),
    placeholderData: keepPreviousData,
  });
}

export function useDisposals() {
  return useQuery({
    queryKey: ['disposals'],
    queryFn: () => request<AnswerOf<typeof disposalsApi.GET>>('GET', '/api/retention/disposals'),
  });
}

const MOVES: readonly string[] = ['agreed', 'running'];

/** What holds the same bytes as its items, and stays. */
export function useDisposalCopies(id: string) {
  return useQuery({
    queryKey: ['disposal-copies', id],
    queryFn: () => request<AnswerOf<typeof copiesApi.GET>>('GET', `/api/retention/disposals/${id}/copies`),
  });
}

export function useDisposal(id: string) {
  return useQuery({
    queryKey: ['disposal', id],
    queryFn: () => request<AnswerOf<typeof disposalApi.GET>>('GET', `/api/retention/disposals/${id}`),
    refetchInterval: ({ state: { data } }) => (data && MOVES.includes(data.state) ? 2000 : false),
  });
}
