import { useState } from 'react';
import type * as proposalsApi from '../../../pages/api/protection/proposals/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { Proposal } from '../../../server/protection/proposals/proposals.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, dayWords } from '../../desk/words.ts';
import { itemLink } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable } from '../../parts/DataTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { useSending } from '../../parts/use-sending.ts';
import css from '../protection.module.css';

const KEY = 'level-proposals';
const keyOf = (p: Proposal) => `${p.item} ${p.rule}`;

/** Levels that owners are asked about; who looks after a system may answer for them, for many at once. */
export function ProposedSheet() {
  const maySay = useMay('protection.set');
  const [total, setTotal] = useState<number>();
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const { busy, refused, send } = useSending();
  const say = (agree: boolean) =>
    send(async () => {
      const all = [...selected].map((k) => {
        const [item, rule] = k.split(' ');
        return { item: Number(item), rule };
      });
      const { done, unstamped, failed } = await request<{
        done: number;
        unstamped: number;
        failed: readonly string[];
      }>('POST', '/api/protection/proposals/many', { all, agree });
      tell(
        [
          agree
            ? `${countWords(done, 'item has', 'items have')} the level now`
            : `${countWords(done, 'item stays', 'items stay')} as before`,
          unstamped > 0 && `${countWords(unstamped, 'carries', 'carry')} no marking`,
          failed.length > 0 && `${countWords(failed.length, 'was', 'were')} answered meanwhile or gone`,
        ]
          .filter(Boolean)
          .join(', ') + '.',
      );
      setSelected(new Set());
    });
  return (
    <>
      <SheetHead
        title="Proposed to owners"
        detail={
          total === undefined
            ? ''
            : total === 0
              ? 'Nothing is open'
              : `${countWords(total, 'item waits', 'items wait')} for an owner’s answer`
        }
      />
      {refused && (
        <p role="alert" className={css['mark']}>
          ◆ {refused.message}
        </p>
      )}
      <DataTable<Proposal>
        label="Proposed to owners"
        name="level-proposals"
        columns={[
          {
            key: 'name',
            title: 'Item',
            fills: true,
            cell: (p) => (
              <span title={p.place}>
                <span className={css['name']}>{p.name}</span> <span className={css['place']}>{p.place}</span>
              </span>
            ),
          },
          {
            key: 'level',
            title: 'Proposed',
            width: '170px',
            cell: (p) => (p.has === null ? p.levelName : `${p.has} → ${p.levelName}`),
          },
          {
            key: 'rule',
            title: 'By',
            optional: true,
            width: '150px',
            cell: (p) => <span title={`because ${p.because}`}>{p.ruleName}</span>,
          },
          { key: 'owner', title: 'Asked', width: '120px', cell: (p) => p.owner ?? 'nobody known' },
          {
            key: 'changed',
            title: 'Changed',
            optional: true,
            width: '90px',
            cell: (p) => p.changed && dayWords(p.changed),
          },
          {
            key: 'since',
            title: 'Asked on',
            optional: true,
            hidden: true,
            width: '80px',
            cell: (p) => dayWords(p.since),
          },
        ]}
        queryKey={[KEY]}
        load={async (after) => {
          const page = await request<AnswerOf<typeof proposalsApi.GET>>(
            'GET',
            `/api/protection/proposals${queryString({ after })}`,
          );
          setTotal(page.total);
          return page;
        }}
        rowKey={keyOf}
        rowName={(p) => `${p.name}, ${p.levelName}`}
        onOpen={(p) => go(itemLink(String(p.item), 'everything'))}
        {...(maySay ? { selected, onSelect: setSelected } : {})}
        bulk={
          <>
            <Button kind="primary" busy={busy} onClick={() => say(true)}>
              Yes, mark them
            </Button>
            <Button busy={busy} onClick={() => say(false)}>
              No, leave them
            </Button>
          </>
        }
        empty={
          <p>
            No owner is asked anything. A level rule may ask the owner of an item first: it then sets nothing
            itself, and what is open stands here.
          </p>
        }
      />
    </>
  );
}
