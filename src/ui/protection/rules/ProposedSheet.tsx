import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type * as proposalsApi from '../../../pages/api/protection/proposals/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { countWords, dayWords } from '../../desk/words.ts';
import { itemLink } from '../../holdings/offers.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { levelRuleLink } from '../links.ts';
import { SayToProposal } from './SayToProposal.tsx';
import css from '../protection.module.css';

/** Levels that owners are asked about, the oldest first. */
export function ProposedSheet() {
  const maySay = useMay('protection.set');
  const [said, setSaid] = useState('');
  const asked = useQuery({
    queryKey: ['level-proposals'],
    queryFn: () => request<AnswerOf<typeof proposalsApi.GET>>('GET', '/api/protection/proposals'),
  });
  if (asked.isError && !asked.data)
    return <Failure error={asked.error} onRetry={() => void asked.refetch()} />;
  if (!asked.data) return <Loading what="what owners are asked" />;
  const { proposals, total } = asked.data;
  if (total === 0)
    return (
      <Empty title="No owner is asked anything">
        A level rule may ask the owner of an item first: it then sets nothing itself. What is open stands
        here, and whoever looks after the system may answer for the owner.
      </Empty>
    );
  return (
    <>
      <SheetHead
        title="Proposed to owners"
        detail={
          total > proposals.length
            ? `${countWords(total, 'item waits', 'items wait')}; the ${proposals.length} oldest are here`
            : `${countWords(total, 'item waits', 'items wait')} for an answer`
        }
      />
      {said && (
        <p role="status" className={css['note']}>
          ✓ {said}
        </p>
      )}
      <table className={css['table']}>
        <thead>
          <tr>
            <th scope="col">Item</th>
            <th scope="col">Proposed</th>
            <th scope="col">Asked</th>
            {maySay && <th scope="col">For the owner</th>}
          </tr>
        </thead>
        <tbody>
          {proposals.map((p) => (
            <tr key={`${p.item} ${p.rule}`}>
              <td>
                <a className={css['name']} href={itemLink(String(p.item), 'everything')} title={p.place}>
                  {p.name}
                </a>
                <div className={css['note']}>{p.place}</div>
              </td>
              <td>
                {p.levelName}
                {p.has && ` over ${p.has}`}
                <div className={css['note']}>
                  by <a href={levelRuleLink(p.rule)}>{p.ruleName}</a>, because {p.because}
                </div>
              </td>
              <td>
                {p.owner ?? 'nobody known'}
                <div className={css['note']}>{dayWords(p.since)}</div>
              </td>
              {maySay && (
                <td>
                  <SayToProposal proposal={p} onSaid={setSaid} />
                </td>
              )}
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
