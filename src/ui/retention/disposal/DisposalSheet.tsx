import { useState } from 'react';
import { dayText } from '../../../core/text/day.ts';
import type * as itemsApi from '../../../pages/api/retention/disposals/[id]/items.ts';
import type * as putBackApi from '../../../pages/api/retention/disposals/[id]/put-back.ts';
import type * as sayApi from '../../../pages/api/retention/disposals/[id]/say.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { DisposalItem, DisposalView } from '../../../server/retention/disposal/disposals.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, dateWords, numberWords, sizeWords, whenWords } from '../../desk/words.ts';
import { itemLink } from '../../holdings/offers.ts';
import { CheckList } from '../../parts/CheckList.tsx';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { retentionRuleLink } from '../links.ts';
import { useDisposal, useDisposalCopies } from '../use-retention.ts';
import { ITEM_WORDS } from './disposal-words.ts';
import { KeepDialog } from './KeepDialog.tsx';
import { itemColumns } from '../item-columns.tsx';
import css from '../retention.module.css';

const COLUMNS: readonly Column<DisposalItem>[] = [
  ...itemColumns<DisposalItem>(),
  { key: 'goes', title: 'May go since', width: '98px', align: 'right', cell: (i) => dayText(i.goes) },
  {
    key: 'people',
    title: 'People',
    width: '62px',
    align: 'right',
    cell: (i) => numberWords(i.people),
    optional: true,
  },
  {
    key: 'size',
    title: 'Size',
    width: '70px',
    align: 'right',
    cell: (i) => sizeWords(i.size),
    optional: true,
    hidden: true,
  },
  {
    key: 'state',
    title: 'State',
    width: '190px',
    cell: (i) => (
      <span className={`${css['cut']} ${i.state === 'failed' ? css['mark'] : ''}`} title={i.why}>
        {ITEM_WORDS[i.state]}
        {i.why && `: ${i.why}`}
      </span>
    ),
  },
];

/** Items that a rule lets go together: who agreed, what became of each, and the certificate. */
export function DisposalSheet({ id }: { readonly id: string }) {
  const disposal = useDisposal(id);
  const mayDispose = useMay('retention.dispose');
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [keeping, setKeeping] = useState<'all' | 'some'>();
  if (disposal.isError && !disposal.data)
    return <Failure error={disposal.error} onRetry={() => void disposal.refetch()} />;
  if (!disposal.data) return <Loading what="the disposal" />;
  const d = disposal.data;
  const asked = d.state === 'asked' && mayDispose;
  const agree = async () => {
    try {
      const { missing } = await request<AnswerOf<typeof sayApi.POST>>(
        'POST',
        `/api/retention/disposals/${id}/say`,
        {
          agrees: true,
        },
      );
      tell(missing === 0 ? 'Agreed: they go now.' : 'Agreed. Somebody else has to, too.');
    } catch (e) {
      tellFailure(e);
    }
  };
  const back = async (items?: readonly number[]) => {
    try {
      const { back: n, left } = await request<AnswerOf<typeof putBackApi.POST>>(
        'POST',
        `/api/retention/disposals/${id}/put-back`,
        items ? { items } : {},
      );
      tell(
        `${countWords(n, 'item is', 'items are')} back.${left.length > 0 ? ` ${left.length} could not be: ${left[0]}` : ''}`,
      );
      setSelected(new Set());
    } catch (e) {
      tellFailure(e);
    }
  };
  const chosen = [...selected].map(Number);
  return (
    <>
      <SheetHead
        title={answerOf(d)}
        detail={
          <>
            {d.rule.version > 0 ? (
              <a href={retentionRuleLink(d.rule.id)}>
                {d.rule.name}, version {d.rule.version}
              </a>
            ) : (
              d.rule.name
            )}{' '}
            · {d.follows} · gathered {whenWords(d.madeAt)}
          </>
        }
        actions={
          <>
            {asked && !d.said && (
              <Button kind="primary" onClick={() => void agree()}>
                {d.needed - d.words.filter((w) => w.agrees).length > 1
                  ? 'Agree, with one more'
                  : 'Agree: let them go'}
              </Button>
            )}
            {asked && <Button onClick={() => setKeeping('all')}>Keep all of them …</Button>}
            {mayDispose && (d.counts.aside ?? 0) > 0 && (
              <Button onClick={() => void back()}>Put {numberWords(d.counts.aside ?? 0)} back</Button>
            )}
            {d.certified && (
              <>
                <a href={`/api/retention/disposals/${id}/certificate?as=pdf`}>Certificate (PDF)</a>{' '}
                <a href={`/api/retention/disposals/${id}/certificate`}>with proof (JSON)</a>
              </>
            )}
          </>
        }
      />
      <FigureRow>
        {(['waiting', 'gone', 'aside', 'kept', 'failed', 'back'] as const).map((state) => {
          const n = d.counts[state] ?? 0;
          return n === 0 ? null : (
            <Figure
              key={state}
              value={numberWords(n)}
              words={figureWords(state, d.act)}
              mark={state === 'failed'}
            />
          );
        })}
      </FigureRow>
      <CheckList label="Who agrees">
        {d.words.map((w) => (
          <li key={`${w.name} ${w.at}`}>
            {w.agrees ? '✓' : '◆'} {w.name} {w.agrees ? 'agreed' : 'said no'}, {whenWords(w.at)}
            {w.reason && `: ${w.reason}`}
          </li>
        ))}
        {d.state === 'asked' && (
          <li>
            ○{' '}
            {countWords(
              d.needed - d.words.filter((w) => w.agrees).length,
              'more person has',
              'more people have',
            )}{' '}
            to agree
            {d.whyNeeded && `, ${whyTwo(d.whyNeeded)}`}
            {d.answerBy
              ? `; ${d.owner} is asked until ${dateWords(d.answerBy)}`
              : '; no answer came, and it is yours to say'}
          </li>
        )}
        {d.said && d.state === 'asked' && <li>You said yes; another person has to, too.</li>}
        {d.backUntil && (
          <li>○ It can be put back until {dateWords(d.backUntil)}; the certificate follows then</li>
        )}
      </CheckList>
      <DataTable
        label="Items of the disposal"
        name="disposal-items"
        columns={COLUMNS}
        queryKey={['disposal-items', id, d.state, d.counts]}
        load={(after) =>
          request<AnswerOf<typeof itemsApi.GET>>(
            'GET',
            `/api/retention/disposals/${id}/items${queryString({ after })}`,
          )
        }
        rowKey={(i) => i.id}
        rowName={(i) => i.name}
        onOpen={(i) => go(itemLink(i.id, 'everything'))}
        selected={selected}
        onSelect={mayDispose && (asked || (d.counts.aside ?? 0) > 0) ? setSelected : undefined}
        bulk={
          asked ? (
            <Button onClick={() => setKeeping('some')}>Keep these …</Button>
          ) : (
            <Button onClick={() => void back(chosen)}>Put these back</Button>
          )
        }
        empty={<p>Nothing is left in it.</p>}
      />
      <Copies id={id} />
      {keeping && (
        <KeepDialog
          id={id}
          items={keeping === 'some' ? chosen : undefined}
          onClose={() => setKeeping(undefined)}
          onKept={() => setSelected(new Set())}
        />
      )}
    </>
  );
}

/** What holds the same elsewhere, which nobody agreed to let go. */
function Copies({ id }: { readonly id: string }) {
  const { data } = useDisposalCopies(id);
  if (!data || data.copies.length === 0) return null;
  return (
    <>
      <h2 className={css['heading']}>Copies that stay</h2>
      <CheckList>
        {data.copies.map((c) => (
          <li key={`${c.item} ${c.inside ?? ''}`}>
            <span className={css['mark']}>◆ {c.inside === null ? 'The same: ' : 'Within it: '}</span>
            <a href={itemLink(String(c.item), 'everything')}>{c.name}</a> in {c.place}
            {c.inside !== null && <small>as {c.inside}</small>}
          </li>
        ))}
        {data.more && <li>and more, which the certificate lists</li>}
      </CheckList>
    </>
  );
}

/** That the rule asks for it is no number of anything. */
function whyTwo(why: string): string {
  return why.startsWith('the rule') ? `as ${why}` : `as there are two for ${why}`;
}

const FIGURES = {
  waiting: 'wait',
  gone: 'for good',
  aside: 'can be put back',
  kept: 'stay',
  failed: 'failed',
  back: 'put back',
} as const;

/** What its items are once it is done. */
const DONE = { delete: 'gone', archive: 'in the archive', anonymise: 'anonymous' } as const;

const GOING = {
  delete: 'are going',
  archive: 'are moving to the archive',
  anonymise: 'are being made anonymous',
} as const;
const SOON = {
  delete: 'go in a moment',
  archive: 'move to the archive in a moment',
  anonymise: 'are made anonymous in a moment',
} as const;

function figureWords(state: keyof typeof FIGURES, act: DisposalView['act']): string {
  const words = FIGURES[state];
  if (state === 'gone') return `${DONE[act]} ${words}`;
  return state === 'aside' ? `${DONE[act]}, ${words}` : words;
}

function answerOf(d: DisposalView): string {
  const waiting = countWords(d.counts.waiting ?? 0, 'item');
  switch (d.state) {
    case 'asked':
      return `${waiting} of ${d.owner} may go, once agreed`;
    case 'agreed':
      return `${waiting} of ${d.owner} ${SOON[d.act]}`;
    case 'running':
      return `${countWords(d.items, 'item')} of ${d.owner} ${GOING[d.act]}`;
    case 'refused':
      return `✓ ${countWords(d.items, 'item')} of ${d.owner} stay`;
    case 'done': {
      const gone = (d.counts.gone ?? 0) + (d.counts.aside ?? 0);
      return `✓ ${countWords(gone, 'item')} of ${d.owner} ${gone === 1 ? 'is' : 'are'} ${DONE[d.act]}`;
    }
  }
}
