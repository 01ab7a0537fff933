import { useQueryClient } from '@tanstack/react-query';
import { request } from '../desk/request.ts';
import { tell, tellFailure } from '../desk/toasts.ts';
import { siteLink } from './WebsitesArea.tsx';

interface Before {
  readonly id: number;
  readonly decided: string | null;
  readonly because: string | null;
}

/** Decides a purpose, with undo. `loud` hands a refusal to the caller instead of the toasts. */
export function useDecide(host: string) {
  const client = useQueryClient();
  const refresh = async () => {
    for (const key of ['trackers', 'tracker', 'site', 'site-soundings', 'websites'])
      await client.invalidateQueries({ queryKey: [key] });
  };
  return async (
    ids: readonly number[],
    purpose: string | null,
    because: string,
    loud = false,
  ): Promise<void> => {
    try {
      const { before } = await request<{ before: Before[] }>('POST', `/api${siteLink(host)}/trackers`, {
        ids,
        purpose,
        because,
      });
      tell(ids.length === 1 ? 'Purpose decided.' : `Purpose of ${ids.length} trackers decided.`, {
        undo: async () => {
          await request('POST', `/api${siteLink(host)}/trackers/restore`, { before });
          await refresh();
        },
      });
      await refresh();
    } catch (error) {
      if (loud) throw error;
      tellFailure(error);
    }
  };
}
