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
  /** Of what came into it or left it, where that is looked at, and what it is compared with. */
  readonly compared: Compared;
  /** Looks through another. */
  readonly set: (form: Partial<LensForm>) => void;
}

export interface Compared {
  /** ISO 8601. */
  readonly since?: string | undefined;
  readonly until?: string | undefined;
  readonly which?: 'came' | 'left' | undefined;
}

export function useLens(): LookedLens {
  const { query } = useDeskLocation();
  const asked = query.get('lens') ?? 'everything';
  const kept = { order: query.get('order') ?? undefined, places: query.get('places') ?? undefined };
  const which = query.get('which');
  const compared: Compared = {
    since: query.get('since') ?? undefined,
    until: query.get('until') ?? undefined,
    which: which === 'came' || which === 'left' ? which : undefined,
  };
  const lens = useMemo(() => readLine(asked), [asked]);
  const form = useMemo(() => lensForm(lens), [lens]);
  return {
    line: asked,
    form,
    compared,
    set: (change) => go(lensLink(lensText(formLens({ ...form, ...change })), kept)),
  };
}

/** What is asked of the server for it: nothing where all of the lens is looked at. */
export function onlyChanged({ since, until, which }: Compared): Readonly<Record<string, string | undefined>> {
  return which === undefined || since === undefined ? {} : { since, until, which };
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
    () =>
      data && {
        sources: new Map(data.sources),
        detectors: new Map(data.detectors),
        levels: new Map(data.levels),
        levelRules: new Map(data.levelRules),
      },
    [data],
  );
}

export function useLensVocabulary() {
  const names = useItemNames();
  return useMemo(() => names && itemVocabulary(names), [names]);
}

export function useFigures({ line, compared }: Pick<LookedLens, 'line' | 'compared'>) {
  const only = onlyChanged(compared);
  return useQuery({
    queryKey: ['items', 'figures', line, only],
    queryFn: () =>
      request<AnswerOf<typeof figuresApi.GET>>(
        'GET',
        `/api/holdings/items/figures${queryString({ lens: line, ...only })}`,
      ),
    placeholderData: keepPreviousData,
  });
}
