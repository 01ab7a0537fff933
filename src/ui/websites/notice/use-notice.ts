import { useQuery } from '@tanstack/react-query';
import type { ListedVersion, Notice } from '../../../server/websites/notices/notices.ts';
import { request } from '../../desk/request.ts';

export interface NoticeWithVersions extends Notice {
  readonly versions: readonly ListedVersion[];
}

export function useNotice(host: string) {
  return useQuery({
    queryKey: ['notice', host],
    queryFn: () => request<NoticeWithVersions>('GET', `/api/websites/${encodeURIComponent(host)}/notice`),
  });
}
