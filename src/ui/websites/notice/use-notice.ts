import { useQuery } from '@tanstack/react-query';
import type { Notice } from '../../../server/websites/notices/notices.ts';
import { request } from '../../desk/request.ts';

export function useNotice(host: string) {
  return useQuery({
    queryKey: ['notice', host],
    queryFn: () => request<Notice>('GET', `/api/websites/${encodeURIComponent(host)}/notice`),
  });
}
