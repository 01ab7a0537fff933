import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import {
  addressWords,
  itemWords,
  SOURCE_KINDS,
  type SourceAddress,
  type SourceContent,
} from '../../../core/holdings/sources/source.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryClient } from '../../desk/changed.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords, sizeWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { lensLink, SOURCES, SURVEYS } from '../links.ts';
import { AddressFields, addressTyped, typedAddress } from './AddressFields.tsx';
import { RowTemplates } from './RowTemplates.tsx';
import { useSource, useSystems } from './use-sources.ts';
import css from '../estate.module.css';

/** A source: where it lies, whether it can be read, what it holds, and what reading it may take. */
export function SourceSheet({ id }: { readonly id: string }) {
  const { query, save } = usePlainObject<SourceContent>('source', id);
  const view = useSource(id);
  const systems = useSystems();
  const mayEdit = useMay('holdings.sources');
  const maySurvey = useMay('holdings.survey');
  const [moving, setMoving] = useState(false);
  const [forgetting, setForgetting] = useState(false);
  const check = useMutation({
    mutationFn: () =>
      request<{ ok: boolean; words: string }>('POST', `/api/holdings/sources/${id}/check`, {}),
    onSuccess: ({ words }) => {
      tell(words);
      void queryClient.invalidateQueries({ queryKey: ['source-view', id] });
      void queryClient.invalidateQueries({ queryKey: ['sources'] });
    },
    onError: tellFailure,
  });
  const remove = useMutation({
    mutationFn: () => request('DELETE', `/api/holdings/sources/${id}`),
    onSuccess: () => {
      tell('What is known of it is being forgotten; the data itself stays where it lies.');
      go(SOURCES);
    },
    onError: tellFailure,
  });
  const failed = query.error ?? view.error;
  if (failed && !(query.data && view.data))
    return <Failure error={failed} onRetry={() => void query.refetch()} />;
  if (!query.data || !view.data) return <Loading what="the source" />;
  const { content } = query.data;
  const { address, health, readAt, items, unreadable, bytes } = view.data;
  const set = (change: Partial<SourceContent>) => void save({ ...content, ...change }, 'Saved.');
  const [one, many] = itemWords(address.kind);
  const system = systems.data?.rows.find((s) => s.id === content.system);
  return (
    <>
      <SheetHead
        title={content.name}
        detail={`${SOURCE_KINDS[address.kind]} · ${readAt ? `read to the end ${whenWords(readAt)}` : 'never read to the end'}`}
        actions={
          <>
            {mayEdit && (
              <MenuButton
                label="More"
                acts={[{ id: 'remove', words: 'Forget this source', act: () => setForgetting(true) }]}
              />
            )}
            {mayEdit && (
              <Button busy={check.isPending} onClick={() => check.mutate()}>
                Try to open it
              </Button>
            )}
            {maySurvey && (
              <Button kind="primary" onClick={() => go(`${SURVEYS}?new=survey&source=${id}`)}>
                Survey it
              </Button>
            )}
          </>
        }
      />
      {health && !health.ok && (
        <p role="alert" className={css['mark']}>
          ◆ {health.words} <span className={css['judged']}>{whenWords(health.at)}</span>
        </p>
      )}
      <Sentence label="It">
        is called{' '}
        <Slot
          label="Name"
          words={content.name}
          fixed={!mayEdit}
          edit={{ kind: 'text', most: 120, value: content.name, set: (name) => set({ name }) }}
        />{' '}
        and holds data of{' '}
        <Slot
          label="System"
          words={system?.name ?? 'no system'}
          fixed={!mayEdit}
          edit={{
            kind: 'choice',
            value: String(content.system ?? ''),
            options: [
              { value: '', words: 'no system' },
              ...(systems.data?.rows ?? []).map((s) => ({ value: String(s.id), words: s.name })),
            ],
            set: (value) => set({ system: value === '' ? null : Number(value) }),
          }}
        />
        .
      </Sentence>
      <Sentence label="Where">
        <b className={css['name']}>{addressWords(address)}</b>{' '}
        {mayEdit && (
          <Button kind="quiet" onClick={() => setMoving(true)}>
            Change it
          </Button>
        )}
      </Sentence>
      <Sentence label="Reading">
        <Slot
          label="Pace"
          words={
            content.itemsPerSecond === null
              ? 'as fast as it goes'
              : `at most ${countWords(content.itemsPerSecond, one, many)} a second`
          }
          fixed={!mayEdit}
          edit={{
            kind: 'choice',
            value: String(content.itemsPerSecond ?? ''),
            options: ['', '1', '5', '20', '100', '500'].map((value) => ({
              value,
              words: value === '' ? 'as fast as it goes' : `at most ${value} ${many} a second`,
            })),
            set: (value) => set({ itemsPerSecond: value === '' ? null : Number(value) }),
          }}
        />
        {(address.kind === 'mariadb' || address.kind === 'postgresql') && (
          <>
            , of each table{' '}
            <Slot
              label="Rows of a table"
              words={
                content.rowsPerTable === null
                  ? 'all rows'
                  : `the first ${numberWords(content.rowsPerTable)} rows`
              }
              fixed={!mayEdit}
              edit={{
                kind: 'choice',
                value: String(content.rowsPerTable ?? ''),
                options: ['', '5000', '50000', '500000'].map((value) => ({
                  value,
                  words: value === '' ? 'all rows' : `the first ${numberWords(Number(value))} rows`,
                })),
                set: (value) => set({ rowsPerTable: value === '' ? null : Number(value) }),
              }}
            />
          </>
        )}
        , at a price of{' '}
        <Slot
          label="Price"
          words={content.pricePerGb === 0 ? 'nothing' : `${content.pricePerGb} a gigabyte`}
          fixed={!mayEdit}
          edit={{
            kind: 'text',
            most: 12,
            value: String(content.pricePerGb),
            hint: 'What reading a gigabyte costs, in your currency.',
            check: (value) => (/^\d+(?:\.\d{1,4})?$/.test(value.trim()) ? '' : 'A number such as 0.09.'),
            set: (value) => set({ pricePerGb: Number(value) }),
          }}
        />
        .
      </Sentence>
      {(address.kind === 'mariadb' || address.kind === 'postgresql') && (
        <RowTemplates
          source={id}
          templates={content.rowTemplates}
          fixed={!mayEdit}
          onSet={(rowTemplates) => set({ rowTemplates })}
        />
      )}
      <h2 className={css['heading']}>What it holds</h2>
      {items === 0 ? (
        <p>Nothing of it was read yet.</p>
      ) : (
        <p>
          <a href={lensLink(`place in "${id}"`)}>{countWords(items, one, many)}</a>, {sizeWords(bytes)}.
          {unreadable > 0 && (
            <>
              {' '}
              <a className={css['mark']} href={lensLink(`place in "${id}" and state one of "unreadable"`)}>
                ◆ {countWords(unreadable, one, many)} could not be read
              </a>
              .
            </>
          )}
        </p>
      )}
      {forgetting && (
        <Dialog title={`Forget ${content.name}?`} onClose={() => setForgetting(false)}>
          <p>
            Its items, findings and judgements leave the register: {countWords(items, one, many)} are known of
            it. The data itself stays where it lies, and the ledger keeps that it was here.
          </p>
          <div className={css['formActs']}>
            <Button kind="primary" busy={remove.isPending} onClick={() => remove.mutate()}>
              Forget it
            </Button>
            <Button onClick={() => setForgetting(false)}>Keep it</Button>
          </div>
        </Dialog>
      )}
      {moving && <MoveSource id={id} address={address} onClose={() => setMoving(false)} />}
    </>
  );
}

function MoveSource({
  id,
  address,
  onClose,
}: {
  readonly id: string;
  readonly address: SourceAddress;
  readonly onClose: () => void;
}) {
  const [typed, setTyped] = useState(addressTyped(address));
  const [secret, setSecret] = useState('');
  const { busy, refused, error: errorOf, send } = useSending();
  const error = (field: string) => errorOf(field, `address.${field}`);
  const move = async () => {
    await request('PUT', `/api/holdings/sources/${id}`, {
      address: typedAddress(address.kind, typed),
      ...(secret === '' ? {} : { secret }),
    });
    tell('It could be opened, and is read there from now on.');
    void queryClient.invalidateQueries({ queryKey: ['source-view', id] });
    onClose();
  };
  return (
    <DialogForm
      title="Where it lies"
      onClose={onClose}
      onSubmit={() => send(move)}
      act="Try it and keep it"
      actBusy="Trying to open it"
      busy={busy}
      refused={refused?.message}
    >
      <AddressFields
        kind={address.kind}
        typed={typed}
        secret={secret}
        secretHint="Left empty, the one that is kept stays."
        error={error}
        onType={(key, value) => setTyped({ ...typed, [key]: value })}
        onSecret={setSecret}
      />
    </DialogForm>
  );
}
