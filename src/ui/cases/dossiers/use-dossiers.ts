import { useQuery, useQueryClient } from '@tanstack/react-query';
import type { ListedDossier } from '../../../server/cases/dossiers/dossiers.ts';
import { request } from '../../desk/request.ts';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { DOSSIERS, type DossierWhat } from '../links.ts';

const path = (what: DossierWhat) => `/api/cases/${what}`;

export function useDossiers(what: DossierWhat) {
  return useQuery({
    queryKey: [`${what} list`],
    queryFn: () => request<readonly ListedDossier[]>('GET', path(what)),
  });
}

/** What is written of one, all that is known besides, and what can be done about it; `object` and `view` once they are there. */
export function useDossier<C, V, A>(what: DossierWhat, id: string) {
  const client = useQueryClient();
  const { query, save } = usePlainObject<C>(DOSSIERS[what].one, id);
  const revision = query.data?.revision;
  const view = useQuery({
    // What is known follows from what is written.
    queryKey: [`${what} view`, id, revision],
    queryFn: () => request<V>('GET', `${path(what)}/${encodeURIComponent(id)}`),
    placeholderData: (before) => before,
  });
  const again = () =>
    Promise.all(
      [[`${what} view`, id], [`${what} list`]].map((queryKey) => client.invalidateQueries({ queryKey })),
    );
  return {
    ...{ object: query.data, view: view.data, save, again },
    failed: [query, view].find((q) => q.isError && !q.data),
    act: async (does: A) => {
      await request('POST', `${path(what)}/${id}`, { does });
      await again();
    },
  };
}
