import { useQuery } from '@tanstack/react-query';
import type * as websitesHostNoticeApi from '../../../pages/api/websites/[host]/notice.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { request } from '../../desk/request.ts';

export function useNotice(host: string) {
  return useQuery({
    queryKey: ['notice', host],
    queryFn: () =>
      request<AnswerOf<typeof websitesHostNoticeApi.GET>>(
        'GET',
        `/api/websites/${encodeURIComponent(host)}/notice`,
      ),
  });
}
