import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { IncidentAct } from '../../../core/cases/incidents/incident-act.ts';
import type { NewIncident } from '../../../core/cases/incidents/incident.ts';
import type * as incidentApi from '../../../pages/api/cases/incidents/[id]/index.ts';
import type * as incidentsApi from '../../../pages/api/cases/incidents/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

const PATH = '/api/cases/incidents';

export type ListedIncident = AnswerOf<typeof incidentsApi.GET>[number];

export function useIncidents() {
  return useQuery({
    queryKey: ['incidents'],
    queryFn: () => request<AnswerOf<typeof incidentsApi.GET>>('GET', PATH),
  });
}

export type ViewedIncident = AnswerOf<typeof incidentApi.GET>;

/** Letters to the people in a language. */
export function useIncident(id: string, language = 'en') {
  return useQuery({
    queryKey: ['incident', id, language],
    queryFn: () => request<ViewedIncident>('GET', `${PATH}/${encodeURIComponent(id)}?language=${language}`),
    placeholderData: (before) => before,
  });
}

export function useIncidentAct(id: string) {
  const client = useQueryClient();
  return async (does: IncidentAct) => {
    await request('POST', `${PATH}/${id}`, { does });
    await client.invalidateQueries({ queryKey: ['incident', id] });
    await client.invalidateQueries({ queryKey: ['incidents'] });
  };
}

export function takeIncident(incident: NewIncident) {
  return request<{ id: number }>('POST', PATH, { incident });
}
