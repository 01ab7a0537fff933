import { useQuery } from '@tanstack/react-query';
import type { ListedSet } from '../../../../server/holdings/detection/labelled/labelled-sets.ts';
import type { OpenedDetector } from '../../../../server/holdings/detection/detectors/open-detector.ts';
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
    queryFn: () => request<Detectors>('GET', '/api/holdings/detectors'),
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
    queryFn: () => request<OpenedDetector>('GET', `/api/holdings/detectors/${encodeURIComponent(id ?? '')}`),
    enabled: id !== undefined,
    refetchOnWindowFocus: false,
  });
}

export function useSets() {
  const may = useMay('holdings.read');
  return useQuery({
    queryKey: ['labelled-sets'],
    queryFn: () => request<readonly ListedSet[]>('GET', '/api/holdings/sets'),
    enabled: may,
  });
}
