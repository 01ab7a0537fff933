import { useQuery } from '@tanstack/react-query';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import { request } from '../../desk/request.ts';

export function usePurposes() {
  return useQuery({
    queryKey: ['purposes'],
    queryFn: () => request<Purpose[]>('GET', '/api/websites/purposes'),
  });
}
