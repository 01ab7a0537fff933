import { useQuery } from '@tanstack/react-query';
import type * as holdingsDetectorsApi from '../../../../pages/api/holdings/detectors/index.ts';
import type * as holdingsDetectorsIdApi from '../../../../pages/api/holdings/detectors/[id]/index.ts';
import type * as holdingsSetsApi from '../../../../pages/api/holdings/sets/index.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import type { ListedOwnDetector } from '../../../../server/holdings/detection/detectors/own-detectors.ts';
import type { ListedDetector } from '../../../../server/holdings/detection/detectors/trial.ts';
import { useMay } from '../../../desk/account-context.ts';
import { request } from '../../../desk/request.ts';

export interface Detectors {
  readonly builtIn: readonly ListedDetector[];
  readonly own: readonly ListedOwnDetector[];
}

export function useDetectors() {
  return useQuery({
    queryKey: ['detectors'],
    queryFn: () => request<AnswerOf<typeof holdingsDetectorsApi.GET>>('GET', '/api/holdings/detectors'),
    staleTime: 60_000,
  });
}

/** A detector’s name by its id; the id where it is not known. */
export function useDetectorName(): (id: string) => string {
  const { data } = useDetectors();
  return (id) =>
    data?.own.find((d) => d.id === id)?.name ?? data?.builtIn.find((d) => d.id === id)?.name ?? id;
}

/** Without an id, none. */
export function useDetector(id: string | undefined) {
  return useQuery({
    queryKey: ['detector', id],
    queryFn: () =>
      request<AnswerOf<typeof holdingsDetectorsIdApi.GET>>(
        'GET',
        `/api/holdings/detectors/${encodeURIComponent(id ?? '')}`,
      ),
    enabled: id !== undefined,
    refetchOnWindowFocus: false,
  });
}

export function useSets() {
  const may = useMay('holdings.read');
  return useQuery({
    queryKey: ['labelled-sets'],
    queryFn: () => request<AnswerOf<typeof holdingsSetsApi.GET>>('GET', '/api/holdings/sets'),
    enabled: may,
  });
}
