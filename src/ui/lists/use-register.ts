import { keepPreviousData, useInfiniteQuery } from '@tanstack/react-query';
import { useDeferredValue, useState } from 'react';
import type { Page } from '../../server/store/page.ts';
import { queryString, request } from '../desk/request.ts';

/** A page of a register, the first with how many there are in all. */
export interface RegisterPage<R> extends Page<R> {
  readonly total?: number;
}

/** The objects of an area as the server pages them, and what is typed to narrow them. */
export function useRegister<R>(key: string, path: string) {
  const [text, setText] = useState('');
  const typed = useDeferredValue(text.trim());
  const query = useInfiniteQuery({
    queryKey: [key, 'register', typed],
    queryFn: ({ pageParam }) =>
      request<RegisterPage<R>>('GET', `${path}${queryString({ text: typed, after: pageParam })}`),
    initialPageParam: undefined as string | undefined,
    getNextPageParam: (page) => page.next ?? undefined,
    placeholderData: keepPreviousData,
  });
  return {
    query,
    rows: query.data?.pages.flatMap((p) => p.rows) ?? [],
    paged: {
      text,
      onText: setText,
      total: query.data?.pages[0]?.total ?? 0,
      more: query.hasNextPage && !query.isFetchingNextPage ? () => void query.fetchNextPage() : undefined,
    },
  };
}
