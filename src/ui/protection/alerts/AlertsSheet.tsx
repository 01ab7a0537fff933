import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import { ALERT_LIST } from '../../../core/protection/alerts/alert-list.ts';
import { isOpen, type AlertAct } from '../../../core/protection/alerts/alert.ts';
import { CATEGORIES } from '../../../core/protection/lookouts/lookout.ts';
import type { ListedAlert } from '../../../server/protection/alerts/alerts.ts';
import { go } from '../../desk/location.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable } from '../../parts/DataTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty } from '../../parts/states.tsx';
import { useLookouts } from '../lookouts/use-lookouts.ts';
import { alertLink, LOOKOUTS } from '../links.ts';
import { EndDialog, type Noted } from './EndDialog.tsx';
import { KeyLink } from './KeyLink.tsx';
import { actOnMany, loadAlerts, useAlertCounts } from './use-alerts.ts';
import css from '../protection.module.css';

/** What lookouts raised: every alert, filtered, and many ended at once. */
export function AlertsSheet() {
  const list = useList(ALERT_LIST);
  const counts = useAlertCounts(list.asked);
  const lookouts = useLookouts();
  const client = useQueryClient();
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [noting, setNoting] = useState<Noted>();
  const put = async (act: AlertAct) => {
    const { done, refused } = await actOnMany([...selected].map(Number), act);
    const why = refused[0] ? ` ${countWords(refused.length, 'was', 'were')} not: ${refused[0].why}` : '';
    tell(`${countWords(done, 'alert')} done.${why}`);
    setSelected(new Set());
    await client.invalidateQueries({ queryKey: ['alerts'] });
    await counts.refetch();
  };
  const open = counts.data?.open;
  return (
    <>
      <SheetHead
        title="Alerts"
        detail={
          open === undefined
            ? '…'
            : `${open === 0 ? '✓ nothing is open' : `${countWords(open, 'alert')} open`} · ${countWords(counts.data?.total ?? 0, 'alert')}${list.narrowed ? ' match' : ' in all'}`
        }
        actions={<a href={LOOKOUTS}>Lookouts</a>}
      />
      <DataTable<ListedAlert>
        label="Alerts"
        name="alerts"
        columns={[
          {
            ...{ key: 'at', title: 'Last', width: '106px', sorts: true },
            cell: (a) => <time dateTime={a.lastAt}>{whenWords(a.lastAt)}</time>,
          },
          {
            ...{ key: 'severity', title: 'Severity', width: '70px' },
            cell: (a) =>
              a.severity === 'high' && isOpen(a.state) ? (
                <span className={css['mark']}>◆ high</span>
              ) : (
                a.severity
              ),
          },
          {
            ...{ key: 'lookout', title: 'Lookout', fills: true },
            cell: (a) => <span title={a.because}>{a.name}</span>,
          },
          { key: 'key', title: 'Whose', width: '108px', cell: (a) => <KeyLink of={a.key} /> },
          {
            ...{ key: 'acts', title: 'Acts', width: '52px', align: 'right', sorts: true, optional: true },
            cell: (a) => a.acts,
          },
          {
            ...{ key: 'state', title: 'State', width: '80px' },
            cell: (a) => (a.state === 'solved' ? '✓ solved' : a.state === 'new' ? <b>new</b> : a.state),
          },
          {
            ...{ key: 'assigned', title: 'Has it', width: '100px', optional: true, hidden: true },
            cell: (a) => a.assigned ?? '–',
          },
          {
            ...{ key: 'category', title: 'About', width: '120px', optional: true, hidden: true },
            cell: (a) => a.category,
          },
        ]}
        queryKey={['alerts', list.asked]}
        load={(after) => loadAlerts(list.asked, after)}
        rowKey={(a) => String(a.id)}
        rowName={(a) => `${a.name}, ${a.key}, ${whenWords(a.lastAt)}`}
        sort={list.sort}
        onSort={list.onSort}
        onOpen={(a) => go(alertLink(a.id))}
        selected={selected}
        onSelect={setSelected}
        exportHref={list.exportHref('/api/protection/alerts.csv')}
        bulk={
          <>
            <Button kind="primary" onClick={() => void put({ act: 'look into' }).catch(tellFailure)}>
              Look into them
            </Button>
            <Button onClick={() => setNoting('solve')}>Solved</Button>
            <Button onClick={() => setNoting('set aside')}>Set aside</Button>
          </>
        }
        filters={
          <ListFilters
            list={ALERT_LIST}
            shown={list}
            only={[
              ...(['open', 'severity', 'category', 'lookout', 'assigned'] as const),
              ...(['state', 'key', 'rule'] as const).filter((f) => list.wish.filters[f]),
              ...(['from', 'to'] as const),
            ]}
            values={{
              category: CATEGORIES,
              lookout: (lookouts.data ?? []).map((l) => l.id),
              assigned: ['nobody', ...(counts.data?.assignees ?? []).map((w) => String(w.id))],
            }}
            names={{
              lookout: (id) => lookouts.data?.find((l) => l.id === id)?.name ?? id,
              assigned: (id) =>
                id === 'nobody'
                  ? 'Nobody’s'
                  : (counts.data?.assignees.find((w) => String(w.id) === id)?.name ?? id),
            }}
          />
        }
        empty={
          <Empty title={list.narrowed ? 'No alert matches' : 'Nothing was raised yet'}>
            {list.narrowed
              ? 'Widen the filter.'
              : 'Lookouts raise alerts. Open one, see what it would have raised, and put it in force.'}
          </Empty>
        }
      />
      {noting && <EndDialog does={noting} send={put} onClose={() => setNoting(undefined)} />}
    </>
  );
}
