import { useQuery } from '@tanstack/react-query';
import type * as preferencesApi from '../../../pages/api/websites/preferences/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';

export const PREFERENCES_API = '/api/websites/preferences';
/** How far back leaving is counted, in days. */
export const LEFT_DAYS = 90;

/** Whether the page was begun, what people are asked by, and how they stand. */
export function usePreferences(days = LEFT_DAYS, enabled = true) {
  return useQuery({
    enabled,
    queryKey: ['preferences', days],
    queryFn: () =>
      request<AnswerOf<typeof preferencesApi.GET>>(
        'GET',
        `${PREFERENCES_API}${queryString({ days: String(days) })}`,
      ),
    placeholderData: (b) => b,
  });
}
