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

interface PastEditsProps {
  /** Where its endpoints are. */
  readonly path: string;
  readonly summary: string;
  /** As it stands; a change of it has the edits read again. */
  readonly revision: number;
  /** What can be done about an edit; nothing for who may not. */
  readonly act?: { readonly words: string; readonly do: (revision: number) => Promise<unknown> } | undefined;
}

/** What an object or a draft was before: each edit in words, and a way back. */
export function PastEdits(props: PastEditsProps) {
  const [open, setOpen] = useState(false);
  return (
    <details className={css['past']} onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary>{props.summary}</summary>
      {open && <Edits {...props} />}
    </details>
  );
}

interface PastVersionsProps<T> {
  readonly kind: string;
  readonly id: string;
  readonly revision: number;
  /** Puts it back as it was; absent for who may not. */
  readonly put?: ((content: T, done: string) => Promise<void>) | undefined;
}

/** Of an object that is no rule: each edit makes a version, which can be put back as it was. */
export function PastVersions<T>({ kind, id, revision, put }: PastVersionsProps<T>) {
  const path = `/api/objects/${encodeURIComponent(kind)}/${encodeURIComponent(id)}`;
  const back = async (edit: number) => {
    const { content } = await request<AnswerOf<typeof atApi.GET>>(
      'GET',
      `${path}/at${queryString({ revision: edit - 1 })}`,
    );
    await put?.(content as T, `As it was in version ${edit - 1}.`);
  };
  return (
    <PastEdits
      path={path}
      summary={revision === 0 ? 'As it was first written' : `Version ${revision}, and what it was before`}
      revision={revision}
      act={put && { words: 'Put back what was before', do: back }}
    />
  );
}

function Edits({ path, revision, act }: PastEditsProps) {
  const query = useInfiniteQuery({
    queryKey: ['past-edits', path, revision],
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
  return (
    <>
      <ol className={css['edits']}>
        {edits.map((e) => (
          <li key={e.revision}>
            <b>{e.revision}</b> · {whenWords(e.at)}, {e.by ?? 'by nobody who is here any more'}
            {act && (
              <Button kind="quiet" onClick={() => void act.do(e.revision).catch(tellFailure)}>
                {act.words}
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
