import { useQuery } from '@tanstack/react-query';
import type { AlertAct } from '../../../core/protection/alerts/alert.ts';
import type * as alertApi from '../../../pages/api/protection/alerts/[id]/index.ts';
import type * as countsApi from '../../../pages/api/protection/alerts/counts.ts';
import type * as alertsApi from '../../../pages/api/protection/alerts/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';

const PATH = '/api/protection/alerts';

export function loadAlerts(asked: Readonly<Record<string, string | undefined>>, after?: string) {
  return request<AnswerOf<typeof alertsApi.GET>>('GET', `${PATH}${queryString({ ...asked, after })}`);
}

export function useOpenAlerts() {
  return useQuery({
    queryKey: ['alerts', 'open'],
    queryFn: () => loadAlerts({ open: 'open', size: '200' }),
  });
}

export function useAlertCounts(asked: Readonly<Record<string, string | undefined>>) {
  return useQuery({
    queryKey: ['alert-counts', asked],
    queryFn: () =>
      request<AnswerOf<typeof countsApi.GET>>('GET', `${PATH}/counts${queryString({ ...asked })}`),
    placeholderData: (before) => before,
  });
}

export type ViewedAlert = AnswerOf<typeof alertApi.GET>;

export function useAlert(id: string) {
  return useQuery({
    queryKey: ['alert', id],
    queryFn: () => request<ViewedAlert>('GET', `${PATH}/${encodeURIComponent(id)}`),
  });
}

/** The alert as it stands then. */
export function actOn(id: number, does: AlertAct): Promise<ViewedAlert> {
  return request<ViewedAlert>('POST', `${PATH}/${id}`, { does });
}

export function actOnMany(
  ids: readonly number[],
  act: AlertAct,
): Promise<{ readonly done: number; readonly refused: readonly { readonly why: string }[] }> {
  return request('POST', `${PATH}/many`, { ids, act });
}
