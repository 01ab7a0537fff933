import { useQueryClient } from '@tanstack/react-query';
import { policySentence, type RequestPolicy } from '../../../core/cases/requests/request-policy.ts';
import { REQUEST_LIST } from '../../../core/cases/requests/request-list.ts';
import { REQUEST_LAWS } from '../../../core/cases/requests/law/laws.ts';
import { KIND_WORDS, OUTCOMES, REQUEST_KINDS, requestNumber } from '../../../core/cases/requests/request.ts';
import type { ListedRequest } from '../../../server/cases/requests/requests.ts';
import { dayText } from '../../../core/text/day.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable } from '../../parts/DataTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty } from '../../parts/states.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { requestLink } from '../links.ts';
import { daysUntil, regionWords } from './RequestRegister.tsx';
import { loadRequests, useRequestCounts } from './use-requests.ts';
import css from '../cases.module.css';

/** What people ask: what waits by mail, every request, and how they are handled. */
export function RequestsSheet() {
  const list = useList(REQUEST_LIST);
  const counts = useRequestCounts(list.asked);
  const figures = counts.data?.figures;
  return (
    <>
      <SheetHead
        title="Requests"
        detail={
          !figures
            ? '…'
            : figures.open === 0
              ? '✓ nobody waits for an answer'
              : `${countWords(figures.open, 'person waits', 'people wait')} for an answer`
        }
        actions={
          <a href="/ask/desk" target="_blank" rel="noreferrer">
            The public form
          </a>
        }
      />
      {figures && (
        <p className={css['answer']}>
          {figures.late > 0 ? (
            <span className={css['mark']}>◆ {countWords(figures.late, 'is', 'are')} late</span>
          ) : (
            '✓ none is late'
          )}
          {figures.week > 0 && `, ${figures.week} due within 7 days`}.
        </p>
      )}
      <Mail mail={counts.data?.mail ?? []} />
      <DataTable<ListedRequest>
        label="Requests"
        name="requests"
        columns={[
          { ...{ key: 'id', title: 'Number', width: '72px' }, cell: (r) => requestNumber(r.id) },
          { ...{ key: 'kind', title: 'Asks', fills: true }, cell: (r) => KIND_WORDS[r.kind] },
          { ...{ key: 'region', title: 'Where', width: '120px' }, cell: (r) => regionWords(r.region) },
          {
            ...{ key: 'due', title: 'Due', width: '106px', sorts: true },
            cell: (r) =>
              r.outcome === null && r.answeredOn === null && daysUntil(r.dueOn) < 0 ? (
                <span className={css['mark']}>◆ {dayText(r.dueOn)}</span>
              ) : (
                dayText(r.dueOn)
              ),
          },
          {
            ...{ key: 'received', title: 'Came in', width: '96px', sorts: true, optional: true },
            cell: (r) => dayText(r.receivedOn),
          },
          {
            ...{ key: 'law', title: 'Law', width: '100px', optional: true, hidden: true },
            cell: (r) => r.lawName,
          },
          {
            ...{ key: 'handler', title: 'Handled by', width: '110px', optional: true, hidden: true },
            cell: (r) => r.handler ?? 'nobody',
          },
          {
            ...{ key: 'state', title: 'State', width: '170px' },
            cell: (r) => (r.outcome === null ? `${r.isWrong ? '◆ ' : ''}${r.next}` : `✓ ${r.outcome}`),
          },
        ]}
        queryKey={['requests', list.asked]}
        load={(after) => loadRequests(list.asked, after)}
        rowKey={(r) => String(r.id)}
        rowName={(r) => `${requestNumber(r.id)}, ${r.kind}`}
        sort={list.sort}
        onSort={list.onSort}
        onOpen={(r) => go(requestLink(r.id))}
        exportHref={list.exportHref('/api/cases/requests.csv')}
        filters={
          <ListFilters
            list={REQUEST_LIST}
            shown={list}
            only={['open', 'due', 'kind', 'law', 'outcome', 'handler', 'from', 'to']}
            values={{
              kind: REQUEST_KINDS,
              law: REQUEST_LAWS.map((l) => l.id),
              outcome: OUTCOMES,
              handler: ['nobody', ...(counts.data?.handlers ?? []).map((h) => String(h.id))],
            }}
            names={{
              law: (id) => REQUEST_LAWS.find((l) => l.id === id)?.name ?? id,
              handler: (id) =>
                id === 'nobody'
                  ? 'Nobody'
                  : (counts.data?.handlers.find((h) => String(h.id) === id)?.name ?? id),
            }}
          />
        }
        empty={
          <Empty title={list.narrowed ? 'No request matches' : 'Nobody asked anything yet'}>
            {list.narrowed
              ? 'Widen the filter.'
              : 'Link the public form from your privacy notice, or take one in by hand with N.'}
          </Empty>
        }
      />
      <Policy handlers={counts.data?.handlers ?? []} mailboxes={counts.data?.mailboxes ?? []} />
    </>
  );
}

/** Letters that nobody decided about. */
function Mail({ mail }: { readonly mail: NonNullable<ReturnType<typeof useRequestCounts>['data']>['mail'] }) {
  const client = useQueryClient();
  const mayHandle = useMay('cases.handle');
  const chosen = useDeskLocation().query.get('mail');
  if (mail.length === 0) return null;
  const setAside = (id: number) =>
    void request('DELETE', `/api/cases/mail/${id}`)
      .then(() => client.invalidateQueries({ queryKey: ['request-counts'] }))
      .then(() => tell('It is set aside.'))
      .catch(tellFailure);
  return (
    <section aria-label="By mail">
      <h2 className={css['heading']}>By mail, not decided about</h2>
      {mail.map((m) => (
        <div key={m.id} className={css['mail']} data-chosen={chosen === String(m.id) || undefined}>
          <b>{m.subject || '(no subject)'}</b>{' '}
          <span className={css['place']}>
            {m.name || m.from} · {whenWords(m.at)} ·{' '}
            {m.kind ? `seems to ask: ${m.kind}` : 'what it asks is not clear'}
          </span>
          <p>{chosen === String(m.id) ? m.text : `${m.text.replace(/\s+/g, ' ').slice(0, 150)} …`}</p>
          {mayHandle && (
            <div className={css['acts']}>
              <Button kind="primary" onClick={() => setQuery({ new: 'request', mail: String(m.id) }, 'push')}>
                Take it in as a request
              </Button>
              <Button onClick={() => setAside(m.id)}>It asks nothing</Button>
            </div>
          )}
        </div>
      ))}
    </section>
  );
}

function Policy({
  handlers,
  mailboxes,
}: {
  readonly handlers: readonly { readonly id: number; readonly name: string }[];
  readonly mailboxes: readonly { readonly id: string; readonly name: string }[];
}) {
  const mayEdit = useMay('cases.policy');
  const { query, save } = usePlainObject<RequestPolicy>('request policy', 1);
  if (!query.data) return null;
  return (
    <>
      <h2 className={css['heading']}>How they are handled</h2>
      <RuleSentence
        sentence={policySentence(
          handlers.map((h) => ({ value: String(h.id), words: h.name })),
          mailboxes.map((m) => ({ value: m.id, words: m.name })),
        )}
        content={query.data.content}
        set={(content) => void save(content, 'Saved.')}
        fixed={!mayEdit}
      />
    </>
  );
}
