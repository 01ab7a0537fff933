import { SEVERITIES } from '../../../core/protection/lookouts/lookout.ts';
import { go } from '../../desk/location.ts';
import { whenWords } from '../../desk/words.ts';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { alertLink } from '../links.ts';
import { useOpenAlerts } from './use-alerts.ts';
import css from '../protection.module.css';

/** Open alerts, the gravest first. */
export function AlertRegister({ chosen }: { readonly chosen: string | undefined }) {
  const alerts = useOpenAlerts();
  if (alerts.isError && !alerts.data)
    return <Failure error={alerts.error} onRetry={() => void alerts.refetch()} />;
  const rows = SEVERITIES.toReversed().flatMap((severity) =>
    (alerts.data?.rows ?? [])
      .filter((a) => a.severity === severity)
      .map((a) => ({
        ...{ id: String(a.id), name: a.name, href: alertLink(a.id), group: `${severity} severity` },
        detail: `${a.key.split('@')[0] ?? a.key} · ${whenWords(a.lastAt)}`,
        tag:
          a.state === 'new' ? (
            <span className={css['mark']}>◆ new</span>
          ) : (
            <span>○ {a.assigned?.split(' ')[0] ?? 'nobody'}</span>
          ),
      })),
  );
  return (
    <RegisterList
      what="open alerts"
      rows={rows}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      empty={alerts.isPending ? 'Loading …' : '✓ Nothing is open.'}
    />
  );
}
