import { useState } from 'react';
import type { ListedLookout } from '../../../server/protection/lookouts/lookouts.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable } from '../../parts/DataTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { ALERTS, lookoutLink } from '../links.ts';
import { useLookouts } from './use-lookouts.ts';
import css from '../protection.module.css';

type Moving = 'put in force' | 'pause' | 'resume' | 'retire' | 'reopen';

/** All lookouts with what they raised; many are switched on and off at once. */
export function LookoutsOverview() {
  const lookouts = useLookouts();
  const mayWatch = useMay('protection.watch');
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [busy, setBusy] = useState(false);
  if (lookouts.isError && !lookouts.data)
    return <Failure error={lookouts.error} onRetry={() => void lookouts.refetch()} />;
  if (!lookouts.data) return <Loading what="the lookouts" />;
  const all = lookouts.data;
  const on = all.filter((l) => l.stage.state === 'in force');
  const move = async (act: Moving, words: string) => {
    setBusy(true);
    try {
      const { moved, refused } = await request<{ moved: number; refused: readonly { why: string }[] }>(
        'POST',
        '/api/protection/lookouts/many',
        { ids: [...selected], act },
      );
      const why = refused[0] ? ` ${countWords(refused.length, 'was', 'were')} not: ${refused[0].why}` : '';
      tell(`${countWords(moved, 'lookout')} ${words}.${why}`);
      setSelected(new Set());
    } catch (e) {
      tellFailure(e);
    } finally {
      setBusy(false);
      await lookouts.refetch();
    }
  };
  return (
    <>
      <SheetHead
        title="Lookouts"
        detail={`${on.length} of ${all.length} are on · what they raise stands in Alerts`}
        actions={
          <>
            <a href={ALERTS}>Alerts</a>
            {mayWatch && <Button onClick={() => setQuery({ new: 'hooks' }, 'push')}>Webhooks</Button>}
          </>
        }
      />
      <DataTable<ListedLookout>
        label="Lookouts"
        name="lookouts"
        columns={[
          { key: 'name', title: 'Lookout', fills: true, cell: (l) => l.name },
          { key: 'state', title: 'State', width: '104px', cell: (l) => <StageTag state={l.stage.state} /> },
          { key: 'severity', title: 'Severity', width: '80px', cell: (l) => l.severity },
          { key: 'category', title: 'About', width: '120px', optional: true, cell: (l) => l.category },
          { key: 'raised', title: 'In 30 days', width: '84px', align: 'right', cell: (l) => l.raised || '–' },
          { key: 'aside', title: 'Set aside', width: '78px', align: 'right', cell: (l) => l.setAside || '–' },
          {
            ...{ key: 'open', title: 'Open', width: '56px', align: 'right' },
            cell: (l) => (l.open > 0 ? <span className={css['mark']}>{l.open}</span> : '–'),
          },
        ]}
        queryKey={['lookouts', 'table', all]}
        load={() => Promise.resolve({ rows: [...all], next: null })}
        rowKey={(l) => l.id}
        rowName={(l) => l.name}
        onOpen={(l) => go(lookoutLink(l.id))}
        {...(mayWatch ? { selected, onSelect: setSelected } : {})}
        bulk={
          <>
            <Button kind="primary" busy={busy} onClick={() => void move('put in force', 'put in force')}>
              Put in force
            </Button>
            <Button busy={busy} onClick={() => void move('pause', 'paused')}>
              Pause
            </Button>
            <Button busy={busy} onClick={() => void move('resume', 'on again')}>
              Take up again
            </Button>
            <Button busy={busy} onClick={() => void move('retire', 'switched off')}>
              Switch off
            </Button>
          </>
        }
        empty={<p>There is none yet. Press New to say what is to be watched.</p>}
      />
    </>
  );
}
