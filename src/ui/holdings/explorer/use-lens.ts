import { useQuery, keepPreviousData } from '@tanstack/react-query';
import { useMemo } from 'react';
import { itemVocabulary, type ItemNames } from '../../../core/holdings/items/item-facts.ts';
import { lensForm, formLens, type LensForm } from '../../../core/holdings/lenses/lens-form.ts';
import { lensText, parseLens } from '../../../core/lens/lens-text.ts';
import { EVERYTHING, type Lens } from '../../../core/lens/lens.ts';
import type * as figuresApi from '../../../pages/api/holdings/items/figures.ts';
import type * as namesApi from '../../../pages/api/holdings/items/names.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { lensLink } from '../links.ts';

/** The lens that is looked through, as the address has it. */
export interface LookedLens {
  readonly line: string;
  readonly form: LensForm;
  /** Looks through another. */
  readonly set: (form: Partial<LensForm>) => void;
}

export function useLens(): LookedLens {
  const { query } = useDeskLocation();
  const asked = query.get('lens') ?? 'everything';
  const kept = { order: query.get('order') ?? undefined, places: query.get('places') ?? undefined };
  const lens = useMemo(() => readLine(asked), [asked]);
  const form = useMemo(() => lensForm(lens), [lens]);
  return {
    line: asked,
    form,
    set: (change) => go(lensLink(lensText(formLens({ ...form, ...change })), kept)),
  };
}

/** A line that cannot be read is told by the server; here it stands for everything. */
function readLine(line: string): Lens {
  try {
    return parseLens(line);
  } catch {
    return EVERYTHING;
  }
}

export function useItemNames(): ItemNames | undefined {
  const { data } = useQuery({
    queryKey: ['item-names'],
    queryFn: () => request<AnswerOf<typeof namesApi.GET>>('GET', '/api/holdings/items/names'),
    staleTime: 60_000,
  });
  return useMemo(
    () => data && { sources: new Map(data.sources), detectors: new Map(data.detectors) },
    [data],
  );
}

export function useLensVocabulary() {
  const names = useItemNames();
  return useMemo(() => names && itemVocabulary(names), [names]);
}

export function useFigures(line: string) {
  return useQuery({
    queryKey: ['items', 'figures', line],
    queryFn: () =>
      request<AnswerOf<typeof figuresApi.GET>>(
        'GET',
        `/api/holdings/items/figures${queryString({ lens: line })}`,
      ),
    placeholderData: keepPreviousData,
  });
}
