import { useQueryClient, type InfiniteData, type QueryClient } from '@tanstack/react-query';
import type * as websitesHostTrackersApi from '../../../pages/api/websites/[host]/trackers/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { Page } from '../../../server/store/page.ts';
import type { ListedTracker } from '../../../server/websites/trackers/trackers.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { siteLink } from '../links.ts';

/** The purposes of trackers as the lists on screen show them. */
function seenPurposes(client: QueryClient, ids: readonly number[]): Record<string, string | null> {
  const lists = client.getQueriesData<InfiniteData<Page<ListedTracker>>>({ queryKey: ['trackers'] });
  const shown = lists.flatMap(([, data]) => data?.pages.flatMap((p) => p.rows) ?? []);
  return Object.fromEntries(
    ids.flatMap((id) => {
      const row = shown.findLast((t) => t.id === id);
      return row ? [[String(id), row.purpose]] : [];
    }),
  );
}

/** Decides a purpose, with undo. `loud` hands a refusal to the caller instead of the toasts. */
export function useDecide(host: string) {
  const client = useQueryClient();
  return async (
    ids: readonly number[],
    purpose: string | null,
    because: string,
    loud = false,
  ): Promise<void> => {
    try {
      const { before } = await request<AnswerOf<typeof websitesHostTrackersApi.POST>>(
        'POST',
        `/api${siteLink(host)}/trackers`,
        {
          ids,
          purpose,
          because,
          saw: seenPurposes(client, ids),
        },
      );
      tell(ids.length === 1 ? 'Purpose decided.' : `Purpose of ${ids.length} trackers decided.`, {
        undo: async () => {
          await request('POST', `/api${siteLink(host)}/trackers/restore`, { before, after: purpose });
        },
      });
    } catch (error) {
      if (loud) throw error;
      tellFailure(error);
    }
  };
}
