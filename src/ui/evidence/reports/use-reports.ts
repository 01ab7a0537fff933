import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { Report } from '../../../core/evidence/reports/report.ts';
import type * as reportApi from '../../../pages/api/evidence/reports/[id]/index.ts';
import type * as filesApi from '../../../pages/api/evidence/reports/files.ts';
import type * as reportsApi from '../../../pages/api/evidence/reports/index.ts';
import type * as subjectsApi from '../../../pages/api/evidence/reports/subjects.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { usePlainObject } from '../../rules/use-plain-object.ts';

export type ListedReport = AnswerOf<typeof reportsApi.GET>[number];
export type OpenReport = AnswerOf<typeof reportApi.GET>;
export type MadeFile = OpenReport['files'][number];

export function useReports() {
  return useQuery({
    queryKey: ['reports'],
    queryFn: () => request<AnswerOf<typeof reportsApi.GET>>('GET', '/api/evidence/reports'),
  });
}

export function useSubjects() {
  return useQuery({
    queryKey: ['report subjects'],
    queryFn: () => request<AnswerOf<typeof subjectsApi.GET>>('GET', '/api/evidence/reports/subjects'),
  });
}

export function useFiles() {
  return useQuery({
    queryKey: ['report files'],
    queryFn: () => request<AnswerOf<typeof filesApi.GET>>('GET', '/api/evidence/reports/files'),
  });
}

/** A report with its files; asked for again while one is being made. */
export function useOpenReport(id: number) {
  return useQuery({
    queryKey: ['open report', String(id)],
    queryFn: () => request<OpenReport>('GET', `/api/evidence/reports/${id}`),
    refetchInterval: (q) => (q.state.data?.files.some((f) => f.state === 'waiting') ? 1500 : false),
  });
}

export function useReport(id: number) {
  return usePlainObject<Report>('report', id);
}

/** Has a report made now. */
export function useMaking(id: number): () => Promise<void> {
  const client = useQueryClient();
  return async () => {
    try {
      await request('POST', `/api/evidence/reports/${id}/make`);
      tell('It is being made. You can go on; it stands here when it is ready.');
      await client.invalidateQueries({ queryKey: ['open report', String(id)] });
    } catch (error) {
      tellFailure(error);
    }
  };
}

export function fileLink(file: Pick<MadeFile, 'id'>): string {
  return `/api/evidence/reports/fetch?file=${file.id}`;
}
