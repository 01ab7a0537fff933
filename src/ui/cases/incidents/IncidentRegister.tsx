import { leftUntil } from '../../../core/cases/incidents/deadlines.ts';
import { INCIDENT_KINDS, incidentNumber } from '../../../core/cases/incidents/incident.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { incidentLink } from '../links.ts';
import { useIncidents } from './use-incidents.ts';
import css from '../cases.module.css';

/** Incidents: open ones by what runs out first, then those that are closed. */
export function IncidentRegister({ chosen }: { readonly chosen: string | undefined }) {
  const incidents = useIncidents();
  const mayTake = useMay('cases.incidents');
  if (incidents.isError && !incidents.data)
    return <Failure error={incidents.error} onRetry={() => void incidents.refetch()} />;
  const now = new Date().toISOString();
  const rows = (incidents.data ?? []).map((i) => {
    const over = i.nextAt !== null && i.nextAt < now;
    const left = i.nextAt ? leftUntil(i.nextAt, now) : i.next;
    return {
      ...{ id: String(i.id), href: incidentLink(i.id), group: i.closedAt ? 'closed' : 'open' },
      name: `${incidentNumber(i.id)}, ${i.title}`,
      detail: i.closedAt ? (
        `${INCIDENT_KINDS[i.kind]} · ${i.isNone ? 'no breach' : (i.level ?? 'not weighed')}`
      ) : over ? (
        <span className={css['mark']}>◆ {left}</span>
      ) : (
        `${left} · ${i.next}`
      ),
    };
  });
  return (
    <RegisterList
      what="incidents"
      rows={rows}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={
        mayTake ? <Button onClick={() => setQuery({ new: 'incident' }, 'push')}>New</Button> : undefined
      }
      empty={incidents.isPending ? 'Loading …' : '✓ Nothing went wrong that is known.'}
    />
  );
}
