import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { ListedDossier } from '../../../server/cases/dossiers/dossiers.ts';
import { request } from '../../desk/request.ts';
import type { DossierWhat } from '../links.ts';

const path = (what: DossierWhat) => `/api/cases/${what}`;

export function useDossiers(what: DossierWhat) {
  return useQuery({
    queryKey: [`${what} list`],
    queryFn: () => request<readonly ListedDossier[]>('GET', path(what)),
  });
}

/** What is known of one besides what is written; read again as what is written changes. */
export function useDossier<V>(what: DossierWhat, id: string, revision: number | undefined) {
  return useQuery({
    queryKey: [`${what} view`, id, revision],
    queryFn: () => request<V>('GET', `${path(what)}/${encodeURIComponent(id)}`),
    placeholderData: (before) => before,
  });
}

/** Does something about one, and has all that shows it read again. */
export function useDossierAct<A>(what: DossierWhat, id: string) {
  const client = useQueryClient();
  return async (does: A) => {
    await request('POST', `${path(what)}/${id}`, { does });
    await Promise.all(
      [[`${what} view`, id], [`${what} list`]].map((queryKey) => client.invalidateQueries({ queryKey })),
    );
  };
}
