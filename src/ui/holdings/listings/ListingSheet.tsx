import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import type { ListingContent } from '../../../core/holdings/listings/listing.ts';
import { STORE_FIELDS } from '../../../core/holdings/listings/store-table.ts';
import type * as tableApi from '../../../pages/api/holdings/listings/[id]/table.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ListingOutcome, ListingView } from '../../../server/holdings/listings/listings.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryClient } from '../../desk/changed.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { ScheduleSlots } from '../../parts/ScheduleSlots.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading, ProgressBar } from '../../parts/states.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { SOURCES } from '../links.ts';
import { useStewards } from '../sources/use-sources.ts';
import { MoveListing } from './MoveListing.tsx';
import { OwnerRules } from './OwnerRules.tsx';
import { SendTable } from '../tables/SendTable.tsx';
import { StoreTable } from './StoreTable.tsx';
import { useListing } from './use-listings.ts';
import css from '../estate.module.css';

/** A listing: where stores are named, what is new, gone or changed since last time, and which become sources. */
export function ListingSheet({ id }: { readonly id: string }) {
  const { query, save } = usePlainObject<ListingContent>('listing', id);
  const view = useListing(id);
  const stewards = useStewards();
  const may = useMay('holdings.sources');
  const [moving, setMoving] = useState(false);
  const [sending, setSending] = useState(false);
  const readAgain = () => void queryClient.invalidateQueries({ queryKey: ['listing-view', id] });
  const read = useMutation({
    mutationFn: () => request('POST', `/api/holdings/listings/${id}/read`, {}),
    onSuccess: readAgain,
    onError: tellFailure,
  });
  const remove = useMutation({
    mutationFn: () => request('DELETE', `/api/holdings/listings/${id}`),
    onSuccess: () => {
      tell('The listing is gone; sources that were taken in from it stay.');
      go(SOURCES);
    },
    onError: tellFailure,
  });
  const failed = query.error ?? view.error;
  if (failed && !(query.data && view.data))
    return <Failure error={failed} onRetry={() => void view.refetch()} />;
  if (!query.data || !view.data) return <Loading what="the listing" />;
  const { content } = query.data;
  const { address, outcome, health, nextRun, reading } = view.data;
  const set = (change: Partial<ListingContent>) => void save({ ...content, ...change }, 'Saved.');
  const account = address.kind === 'account';
  const named = content.tell.map(
    (one) => stewards.data?.find((s) => s.id === one)?.name ?? 'somebody who left',
  );
  return (
    <>
      <SheetHead
        title={content.name}
        detail={`${account ? 'The listing of an account' : 'A table of stores'} · ${outcome ? `read ${whenWords(outcome.at)}` : 'never read'}${nextRun ? ` · asked again ${whenWords(nextRun)}` : ''}`}
        actions={
          may && (
            <>
              <MenuButton
                label="More"
                acts={[
                  ...(account
                    ? [{ id: 'move', words: 'Change address or key', act: () => setMoving(true) }]
                    : []),
                  { id: 'remove', words: 'Let this listing go', act: () => remove.mutate() },
                ]}
              />
              {account ? (
                <Button kind="primary" busy={read.isPending || reading} onClick={() => read.mutate()}>
                  {reading ? 'Asking it' : 'Ask it now'}
                </Button>
              ) : (
                <Button kind="primary" onClick={() => setSending(true)}>
                  {outcome ? 'Send it anew' : 'Send the table'}
                </Button>
              )}
            </>
          )
        }
      />
      {health && !health.ok && (
        <p role="alert" className={css['mark']}>
          ◆ {health.words} What was known stays. <span className={css['judged']}>{whenWords(health.at)}</span>
        </p>
      )}
      <Sentence label="It">
        is called{' '}
        <Slot
          label="Name"
          words={content.name}
          fixed={!may}
          edit={{ kind: 'text', most: 120, value: content.name, set: (name) => set({ name }) }}
        />
        {account && (
          <>
            , is asked at <b className={css['name']}>{address.url}</b>{' '}
            <ScheduleSlots
              label="When it is asked"
              schedule={content.schedule}
              idle="when somebody asks it"
              zone={Intl.DateTimeFormat().resolvedOptions().timeZone}
              fixed={!may}
              onSet={(schedule) => set({ schedule })}
            />
          </>
        )}
        , and tells{' '}
        <Slot
          label="Who is told"
          words={named.length === 0 ? 'nobody' : named.join(', ')}
          fixed={!may}
          edit={{
            kind: 'many',
            value: content.tell.map(String),
            options: (stewards.data ?? []).map((s) => ({
              value: String(s.id),
              words: s.name,
              detail: s.title,
            })),
            set: (ids) => set({ tell: ids.map(Number) }),
          }}
        />{' '}
        what is new, gone or changed.
      </Sentence>
      <OwnerRules owners={content.owners} fixed={!may} onSet={(owners) => set({ owners })} />
      {reading && <ProgressBar label="Reading" share={null} words="The account is asked, page by page …" />}
      {outcome && <Outcome outcome={outcome} counts={view.data.counts} />}
      {outcome ? (
        <StoreTable id={id} name={content.name} counts={view.data.counts} />
      ) : (
        !reading && (
          <p>
            {account
              ? 'It was not read to its end yet.'
              : 'Send a workbook or CSV with a row for each store: what it is called, what kind it is, and where it lies.'}
          </p>
        )
      )}
      {moving && address.kind === 'account' && (
        <MoveListing id={id} address={address} onClose={() => setMoving(false)} />
      )}
      {sending && (
        <SendTable
          title="Send a table of stores"
          hint="The first sheet, with headings above and a row for each store."
          fields={STORE_FIELDS}
          path={`/api/holdings/listings/${id}`}
          take={async (sent) => {
            const outcome = await request<AnswerOf<typeof tableApi.POST>>(
              'POST',
              `/api/holdings/listings/${id}/table`,
              sent,
            );
            tell(
              `${countWords(outcome.stores, 'store')} read: ${outcome.new} new, ${outcome.changed} changed, ${outcome.gone} gone.`,
            );
            readAgain();
            setSending(false);
          }}
          onClose={() => setSending(false)}
        />
      )}
    </>
  );
}

function Outcome({
  outcome,
  counts,
}: {
  readonly outcome: ListingOutcome;
  readonly counts: ListingView['counts'];
}) {
  const news = (
    [
      [outcome.new, 'new', 'new'],
      [outcome.changed, 'changed', 'changed'],
      [outcome.back, 'back again', 'back'],
      [outcome.gone, 'gone', 'gone'],
    ] as const
  ).filter(([n]) => n > 0);
  return (
    <>
      <h2 className={css['heading']}>What it names</h2>
      <p>
        <a href="?">{countWords(outcome.stores, 'store')}</a>.{' '}
        {news.length === 0
          ? 'Since the time before, nothing is new, gone or changed.'
          : 'Since the time before: '}
        {news.map(([n, words, value], i) => (
          <span key={value}>
            {i > 0 && ', '}
            <a href={`?news=${value}`}>
              {numberWords(n)} {words}
            </a>
          </span>
        ))}
        {news.length > 0 && '.'} {numberWords(outcome.knownBefore)}{' '}
        {outcome.knownBefore === 1 ? 'was' : 'were'} in the register before,{' '}
        <a href="?standing=source">{numberWords(counts.source)}</a> now.
      </p>
      {outcome.faulty > 0 && (
        <details>
          <summary className={css['mark']}>
            ◆ {countWords(outcome.faulty, 'store')} could not be taken as the account tells them
          </summary>
          <ul className={css['why']}>
            {outcome.faults.map((f, i) => (
              <li key={i}>
                <b>{f.store}</b>: {f.words}
              </li>
            ))}
          </ul>
        </details>
      )}
    </>
  );
}
