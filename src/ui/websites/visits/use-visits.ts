import { useQuery } from '@tanstack/react-query';
import type * as visitsApi from '../../../pages/api/websites/[host]/visits/index.ts';
import type * as visitApi from '../../../pages/api/websites/[host]/visits/[id]/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { siteLink } from '../links.ts';

export function useVisits(host: string) {
  return useQuery({
    queryKey: ['visits', host],
    queryFn: () => request<AnswerOf<typeof visitsApi.GET>>('GET', `/api${siteLink(host)}/visits`),
  });
}

/** The visit that is open: the one in the address, else the newest that came to something. */
export function useOpenVisit(host: string) {
  const asked = useDeskLocation().query.get('visit');
  const visits = useVisits(host);
  const id = asked ?? visits.data?.find((v) => v.state === 'complete')?.id;
  return useQuery({
    queryKey: ['visit', host, String(id)],
    enabled: id !== undefined,
    queryFn: () => request<AnswerOf<typeof visitApi.GET>>('GET', `/api${siteLink(host)}/visits/${id}`),
  });
}
