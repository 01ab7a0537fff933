import { countryWords } from '../../desk/words.ts';
import { go, setQuery } from '../../desk/location.ts';
import { useMay } from '../../desk/account-context.ts';
import { requestNumber } from '../../../core/cases/requests/request.ts';
import type { ListedRequest } from '../../../server/cases/requests/requests.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { requestLink } from '../links.ts';
import { useOpenRequests } from './use-requests.ts';
import css from '../cases.module.css';

const DAY = 86_400_000;

/** Days until the end of a day, in the viewer’s zone. */
export function daysUntil(day: string, now: Date = new Date()): number {
  const today = Date.UTC(now.getFullYear(), now.getMonth(), now.getDate());
  return Math.round((Date.parse(`${day}T00:00:00Z`) - today) / DAY);
}

export function regionWords(region: string): string {
  const [country = '', part] = region.split('-');
  return part ? `${countryWords(country)}, ${part}` : country === 'ZZ' ? 'elsewhere' : countryWords(country);
}

function groupOf(r: ListedRequest): string {
  const days = daysUntil(r.dueOn);
  return days < 0 ? 'late' : days <= 7 ? 'due this week' : 'later';
}

/** Open requests, the one due first at the head. */
export function RequestRegister({ chosen }: { readonly chosen: string | undefined }) {
  const requests = useOpenRequests();
  const mayHandle = useMay('cases.handle');
  if (requests.isError && !requests.data)
    return <Failure error={requests.error} onRetry={() => void requests.refetch()} />;
  const rows = (requests.data?.rows ?? []).map((r) => {
    const days = daysUntil(r.dueOn);
    const left =
      days < 0
        ? `late by ${-days} ${days === -1 ? 'day' : 'days'}`
        : days === 0
          ? 'due today'
          : `${days} ${days === 1 ? 'day' : 'days'} left`;
    return {
      ...{ id: String(r.id), href: requestLink(r.id), group: groupOf(r) },
      name: `${requestNumber(r.id)}, ${r.kind}, ${regionWords(r.region)}`,
      detail:
        days < 0 ? (
          <span className={css['mark']}>◆ {left}</span>
        ) : (
          `${left} · ${r.isPaused ? 'the clock stands' : r.next}`
        ),
    };
  });
  return (
    <RegisterList
      what="requests"
      rows={rows}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={
        mayHandle ? <Button onClick={() => setQuery({ new: 'request' }, 'push')}>New</Button> : undefined
      }
      empty={requests.isPending ? 'Loading …' : '✓ Nobody waits for an answer.'}
    />
  );
}
