import { KIND_WORDS } from '../../../../core/holdings/detection/detector/own-detector.ts';
import { useMay } from '../../../desk/account-context.ts';
import { go } from '../../../desk/location.ts';
import { Button } from '../../../parts/Button.tsx';
import { RegisterList, type RegisterRow } from '../../../parts/RegisterList.tsx';
import { StageTag } from '../../../parts/StageTag.tsx';
import { Failure } from '../../../parts/states.tsx';
import { detectorLink, DETECTORS, NEW_DETECTOR } from '../../links.ts';
import { useDetectors } from './use-detectors.ts';

export function DetectorRegister({ chosen }: { readonly chosen: string }) {
  const detectors = useDetectors();
  const mayEdit = useMay('holdings.edit');
  if (detectors.isError && !detectors.data)
    return <Failure error={detectors.error} onRetry={() => void detectors.refetch()} />;
  const { own = [], builtIn = [] } = detectors.data ?? {};
  const rows: RegisterRow[] = [
    ...own.map((d) => ({
      id: `detectors/${d.id}`,
      name: d.name,
      detail: KIND_WORDS[d.kind],
      tag: <StageTag state={d.stage.state} />,
      href: detectorLink(d.id),
      group: 'Your detectors',
    })),
    ...builtIn.map((d) => ({
      id: `detectors/${d.id}`,
      name: d.name,
      detail: d.country ? `${d.category} · ${d.country}` : d.category,
      href: detectorLink(d.id),
      group: 'Ships with Yare Warden',
    })),
  ];
  return (
    <RegisterList
      what="detectors"
      rows={rows}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => go(NEW_DETECTOR)}>New</Button>}
      footer={{ name: 'All detectors together', href: DETECTORS, chosen: chosen === 'detectors' }}
      empty={detectors.isPending ? 'Loading …' : 'No detector is called so.'}
    />
  );
}
