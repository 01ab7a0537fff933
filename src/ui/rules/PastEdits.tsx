import { useInfiniteQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type * as atApi from '../../pages/api/objects/[kind]/[id]/at.ts';
import type * as historyApi from '../../pages/api/objects/[kind]/[id]/history.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { queryString, request } from '../desk/request.ts';
import { tellFailure } from '../desk/toasts.ts';
import { whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import css from './rules.module.css';

interface PastEditsProps<T> {
  readonly kind: string;
  readonly id: string;
  /** As it stands; a change of it has the edits read again. */
  readonly revision: number;
  /** Puts it back as it was; absent for who may not. */
  readonly put?: ((content: T, done: string) => Promise<void>) | undefined;
}

/** What an object that is no rule was before: each edit in words, and a way back to what it was. */
export function PastEdits<T>(props: PastEditsProps<T>) {
  const [open, setOpen] = useState(false);
  return (
    <details className={css['past']} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>
        {props.revision === 0
          ? 'As it was first written'
          : `Version ${props.revision}, and what it was before`}
      </summary>
      {open && <Edits {...props} />}
    </details>
  );
}

function Edits<T>({ kind, id, revision, put }: PastEditsProps<T>) {
  const path = `/api/objects/${encodeURIComponent(kind)}/${encodeURIComponent(id)}`;
  const query = useInfiniteQuery({
    queryKey: ['past-edits', kind, id, revision],
    queryFn: ({ pageParam }) =>
      request<AnswerOf<typeof historyApi.GET>>(
        'GET',
        `${path}/history${queryString({ after: pageParam, size: 20 })}`,
      ),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next ?? undefined,
  });
  if (query.isError) return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data) return <Loading what="what was changed" />;
  const edits = query.data.pages.flatMap((p) => p.rows);
  if (edits.length === 0) return <p>Nobody changed it since it was made.</p>;
  const back = async (to: number) => {
    try {
      const { content } = await request<AnswerOf<typeof atApi.GET>>(
        'GET',
        `${path}/at${queryString({ revision: to })}`,
      );
      await put?.(content as T, `As it was in version ${to}.`);
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <>
      <ol className={css['edits']}>
        {edits.map((e) => (
          <li key={e.revision}>
            <b>Version {e.revision}</b> {whenWords(e.at)}, {e.by ?? 'by nobody who is here any more'}
            {put && (
              <Button kind="quiet" onClick={() => void back(e.revision - 1)}>
                Put back what was before
              </Button>
            )}
            <ul>
              {e.words.map((w) => (
                <li key={w}>{w}</li>
              ))}
            </ul>
          </li>
        ))}
      </ol>
      {query.hasNextPage && (
        <Button kind="quiet" busy={query.isFetchingNextPage} onClick={() => void query.fetchNextPage()}>
          Earlier ones
        </Button>
      )}
    </>
  );
}
