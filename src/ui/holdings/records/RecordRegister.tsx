import { NEW_ACTIVITY } from '../../../core/holdings/records/activity.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { activityLink, RECORDS } from '../links.ts';
import { useActivities, useContradictions } from './use-records.ts';

/** Records of processing, with what contradicts each. */
export function RecordRegister({ chosen }: { readonly chosen: string | undefined }) {
  const activities = useActivities();
  const { data: found = [] } = useContradictions();
  const may = useMay('holdings.records');
  if (activities.isError && !activities.data)
    return <Failure error={activities.error} onRetry={() => void activities.refetch()} />;
  const rows = activities.data?.rows ?? [];
  const open = (id: string) => found.filter((c) => c.activity === id && !c.accepted).length;
  const add = () => {
    const names = new Set(rows.map((r) => r.name));
    let n = 1;
    while (names.has(`New activity ${n}`)) n++;
    request<{ id: number }>('POST', '/api/holdings/activities', {
      ...NEW_ACTIVITY,
      name: `New activity ${n}`,
    }).then(({ id }) => go(activityLink(id)), tellFailure);
  };
  return (
    <RegisterList
      what="activities"
      rows={rows.map((r) => ({
        id: r.id,
        name: r.name,
        detail:
          open(r.id) > 0 ? `◆ ${countWords(open(r.id), 'contradiction')}` : r.purpose || 'no purpose yet',
        href: activityLink(r.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={may && <Button onClick={add}>New</Button>}
      footer={{ name: 'All contradictions', href: RECORDS, chosen: chosen === undefined }}
      empty={
        activities.isPending
          ? 'Loading …'
          : 'Press New to record the first thing that is done with personal data.'
      }
    />
  );
}
