import { useQuery } from '@tanstack/react-query';
import type { Account } from '../../core/accounts/authority.ts';
import type { ListedDetector } from '../../server/holdings/trial.ts';
import { Desk } from '../desk/Desk.tsx';
import { go, useDeskLocation } from '../desk/location.ts';
import { request } from '../desk/request.ts';
import { RegisterList } from '../parts/RegisterList.tsx';
import { Failure } from '../parts/states.tsx';
import { DetectorSheet } from './DetectorSheet.tsx';
import { LibraryIntroduction } from './LibraryIntroduction.tsx';
import { TrialSoundings } from './TrialSoundings.tsx';

export function detectorLink(id: string): string {
  return `/holdings/detectors/${encodeURIComponent(id)}`;
}

export function useDetectors() {
  return useQuery({
    queryKey: ['detectors'],
    queryFn: () => request<readonly ListedDetector[]>('GET', '/api/detectors'),
    staleTime: Infinity,
  });
}

/** The detectors: what each looks for, and a place to try them on a text or a file. */
export function HoldingsArea({ account }: { readonly account: Account }) {
  const { path } = useDeskLocation();
  const id = path[0] === 'detectors' ? path[1] : undefined;
  return (
    <Desk
      account={account}
      area="holdings"
      register={<DetectorRegister chosen={id} />}
      sheet={id ? <DetectorSheet key={id} id={id} /> : <LibraryIntroduction />}
      soundings={<TrialSoundings key={id ?? ''} detector={id} />}
    />
  );
}

function DetectorRegister({ chosen }: { readonly chosen: string | undefined }) {
  const detectors = useDetectors();
  if (detectors.isError && !detectors.data)
    return <Failure error={detectors.error} onRetry={() => void detectors.refetch()} />;
  const rows = (detectors.data ?? []).map((d) => ({
    id: d.id,
    name: d.name,
    detail: d.country ? `${d.category} · ${d.country}` : d.category,
    href: detectorLink(d.id),
  }));
  return (
    <RegisterList
      what="detectors"
      rows={rows}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      footer={{ name: 'All detectors together', href: '/holdings', chosen: chosen === undefined }}
      empty={detectors.isPending ? 'Loading …' : 'No detector is called so.'}
    />
  );
}
