import { useQuery, useQueryClient, type UseQueryResult } from '@tanstack/react-query';
import { useRef } from 'react';
import type { PlainObject } from '../../server/rules/plain-object.ts';
import { request } from '../desk/request.ts';
import { tell, tellFailure } from '../desk/toasts.ts';

interface EditedObject<T> {
  readonly query: UseQueryResult<PlainObject<T>>;
  /** Saves it over what is shown, and says so, with undo; a refusal is told. */
  readonly save: (content: T, done: string) => Promise<void>;
}

/** An object that is no rule, and takes effect as it is saved. */
export function usePlainObject<T>(kind: string, id: string | number): EditedObject<T> {
  const path = `/api/objects/${encodeURIComponent(kind)}/${encodeURIComponent(id)}`;
  const key = [kind, String(id)];
  const query = useQuery({
    queryKey: key,
    queryFn: () => request<PlainObject<T>>('GET', path),
  });
  const undo = async (revision: number) => {
    try {
      await request('POST', `${path}/undo`, { revision });
      tell('Taken back.');
    } catch (e) {
      tellFailure(e);
    }
  };
  const client = useQueryClient();
  const last = useRef(Promise.resolve());
  // One after the other, each on top of the one before; what is shown is what was chosen last.
  const save = async (before: PlainObject<T> | undefined, content: T, done: string) => {
    const { content: base, revision } = before ?? (await request<PlainObject<T>>('GET', path));
    const saved = await request<{ revision: number }>('PUT', path, { revision, base, content });
    client.setQueryData<PlainObject<T>>(key, (shown) => shown && { ...shown, revision: saved.revision });
    tell(done, saved.revision > revision ? { undo: () => undo(saved.revision) } : {});
  };
  return {
    query,
    save: (content, done) => {
      const before = query.data;
      client.setQueryData<PlainObject<T>>(key, (shown) => shown && { ...shown, content });
      last.current = last.current
        .then(() => {
          const now = client.getQueryData<PlainObject<T>>(key);
          return save(before && now && { ...now, content: before.content }, content, done);
        })
        .catch((e: unknown) => {
          tellFailure(e);
          void query.refetch();
        });
      return last.current;
    },
  };
}
