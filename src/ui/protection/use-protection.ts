import { useQuery } from '@tanstack/react-query';
import { useMemo } from 'react';
import type { LevelContent } from '../../core/protection/levels/level-content.ts';
import type { LevelRuleContent, LevelRuleNames } from '../../core/protection/rules/level-rule.ts';
import type { RunState } from '../../core/runs/run.ts';
import type * as levelsApi from '../../pages/api/protection/levels/index.ts';
import type * as outlookApi from '../../pages/api/protection/outlook.ts';
import type * as rulesApi from '../../pages/api/protection/rules/index.ts';
import type * as runApi from '../../pages/api/protection/runs/[id]/index.ts';
import type * as runsApi from '../../pages/api/protection/runs/index.ts';
import type * as shelfApi from '../../pages/api/protection/shelf.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import type { RuleView } from '../../server/rules/rule-view.ts';
import { queryString, request } from '../desk/request.ts';
import { useLensVocabulary } from '../holdings/offers.ts';

export function useProtectionShelf() {
  return useQuery({
    queryKey: ['protection-shelf'],
    queryFn: () => request<AnswerOf<typeof shelfApi.GET>>('GET', '/api/protection/shelf'),
  });
}

/** The strongest first. */
export function useLevels() {
  return useQuery({
    queryKey: ['levels'],
    queryFn: () => request<AnswerOf<typeof levelsApi.GET>>('GET', '/api/protection/levels'),
  });
}

export function useLevel(id: string) {
  return useQuery({
    queryKey: ['level', id],
    queryFn: () => request<RuleView<LevelContent>>('GET', `/api/rules/level/${encodeURIComponent(id)}`),
  });
}

export function useLevelRules() {
  return useQuery({
    queryKey: ['level-rules'],
    queryFn: () => request<AnswerOf<typeof rulesApi.GET>>('GET', '/api/protection/rules'),
  });
}

export function useLevelRule(id: string) {
  return useQuery({
    queryKey: ['level-rule', id],
    queryFn: () =>
      request<RuleView<LevelRuleContent>>('GET', `/api/rules/level%20rule/${encodeURIComponent(id)}`),
  });
}

/** With a rule, as if its draft of this revision were in force now. */
export function useOutlook(rule?: string, revision = 0) {
  return useQuery({
    queryKey: ['level-outlook', rule ?? '', revision],
    queryFn: () =>
      request<AnswerOf<typeof outlookApi.GET>>('GET', `/api/protection/outlook${queryString({ rule })}`),
    placeholderData: (before) => before,
  });
}

export function useLevelRuns() {
  return useQuery({
    queryKey: ['level-runs'],
    queryFn: () => request<AnswerOf<typeof runsApi.GET>>('GET', '/api/protection/runs'),
  });
}

const GOES_ON: readonly RunState[] = ['estimating', 'running', 'pausing', 'stopping'];

export function useLevelRun(id: string) {
  return useQuery({
    queryKey: ['level-run', id],
    queryFn: () => request<AnswerOf<typeof runApi.GET>>('GET', `/api/protection/runs/${id}`),
    refetchInterval: ({ state: { data } }) =>
      data && [data.run, data.undo?.run].some((r) => r && GOES_ON.includes(r.state)) ? 1500 : false,
  });
}

/** What can be named in level rules; `undefined` until it is known. */
export function useLevelRuleNames(): LevelRuleNames | undefined {
  const levels = useLevels();
  const items = useLensVocabulary();
  return useMemo(
    () =>
      levels.data && items
        ? { levels: levels.data.map((l) => ({ value: l.id, words: l.name })), items }
        : undefined,
    [levels.data, items],
  );
}
