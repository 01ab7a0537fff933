import { useQuery } from '@tanstack/react-query';
import type { Board } from '../../../core/figures/board.ts';
import type * as boardsApi from '../../../pages/api/evidence/boards/index.ts';
import type * as linksApi from '../../../pages/api/evidence/boards/[id]/links/index.ts';
import type * as figureApi from '../../../pages/api/evidence/figures/[id]/index.ts';
import type * as figuresApi from '../../../pages/api/figures.ts';
import type { ShownBoard } from '../../../server/desk/shown-board.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';
import { usePlainObject } from '../../rules/use-plain-object.ts';

export type CatalogueEntry = AnswerOf<typeof figuresApi.GET>[number];

export function useBoards() {
  return useQuery({
    queryKey: ['boards'],
    queryFn: () => request<AnswerOf<typeof boardsApi.GET>>('GET', '/api/evidence/boards'),
  });
}

/** A board with what its figures were on a day; today where none is said. */
export function useShownBoard(id: number, day?: string) {
  return useQuery({
    queryKey: ['shown board', String(id), day],
    queryFn: () => request<ShownBoard>('GET', `/api/evidence/boards/${id}${queryString({ day })}`),
  });
}

export function useBoard(id: number) {
  return usePlainObject<Board>('board', id);
}

export function useBoardLinks(id: number, enabled: boolean) {
  return useQuery({
    queryKey: ['board links', String(id)],
    queryFn: () => request<AnswerOf<typeof linksApi.GET>>('GET', `/api/evidence/boards/${id}/links`),
    enabled,
  });
}

export function useCatalogue() {
  return useQuery({
    queryKey: ['figure catalogue'],
    queryFn: () => request<AnswerOf<typeof figuresApi.GET>>('GET', '/api/figures?days=365&points=60'),
  });
}

export type FigureInFull = AnswerOf<typeof figureApi.GET>;

export function useFigure(id: string) {
  return useQuery({
    queryKey: ['figure', id],
    queryFn: () => request<FigureInFull>('GET', `/api/evidence/figures/${encodeURIComponent(id)}`),
  });
}
