import { useQuery } from '@tanstack/react-query';
import type * as gateApi from '../../../pages/api/websites/[host]/gate.ts';
import type * as systemsApi from '../../../pages/api/websites/tag-systems/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';
import { siteLink } from '../links.ts';

export function useGate(host: string) {
  return useQuery({
    queryKey: ['gate', host],
    queryFn: () => request<AnswerOf<typeof gateApi.GET>>('GET', `/api${siteLink(host)}/gate`),
  });
}

export function useTagSystems() {
  return useQuery({
    queryKey: ['tag-systems'],
    queryFn: () => request<AnswerOf<typeof systemsApi.GET>>('GET', '/api/websites/tag-systems'),
  });
}
