import { useQuery } from '@tanstack/react-query';
import { X } from 'lucide-react';
import { useState } from 'react';
import type * as personApi from '../../../pages/api/websites/preferences/people/[id]/index.ts';
import { verifyEntry } from '../../../core/evidence/ledger.ts';
import { plainName } from '../../../core/websites/preferences/preference-page.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { OpenedPreference } from '../../../server/websites/preferences/preference-record.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { GroundList, type Ground } from '../../parts/Explanation.tsx';
import { Field } from '../../parts/Field.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import css from '../websites.module.css';
import { channelName } from './PeopleTab.tsx';
import { PREFERENCES_API } from './use-preferences.ts';

/** Whether somebody may be written to, what they chose over time, and the proof of it. */
export function PersonSoundings({ id }: { readonly id: string }) {
  const path = `${PREFERENCES_API}/people/${id}`;
  const mayEdit = useMay('preferences.edit');
  const maySay = useMay('preferences.say');
  const mayErase = useMay('consent.erase');
  const [asked, setAsked] = useState<'leave' | 'erase'>();
  const opened = useQuery({
    queryKey: ['person', id],
    queryFn: () => request<AnswerOf<typeof personApi.GET>>('GET', path),
  });
  if (opened.isError) return <Failure error={opened.error} onRetry={() => void opened.refetch()} />;
  if (!opened.data) return <Loading what="the person" />;
  const { person, records, page, link } = opened.data;
  const write = async () => {
    try {
      await request('POST', `${path}/letter`, {});
      tell(`The link goes to ${person.address}.`);
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <article>
      <SoundingsSection title="May they be written to?">
        <div className={css['opened']}>
          <h3 className={css['openedName']}>{person.address}</h3>
          <button
            type="button"
            aria-label="Close the person"
            className={css['close']}
            onClick={() => setQuery({ person: null })}
          >
            <X size={15} aria-hidden />
          </button>
        </div>
        <p>{verdictOf(person)}</p>
        <p className={css['dim']}>
          {[person.name, person.number && `number ${person.number}`, person.language]
            .filter(Boolean)
            .join(' · ')}
        </p>
        {maySay && person.stands !== 'left' && page && (
          <p>
            <Button onClick={() => setAsked('leave')}>They want nothing more …</Button>
          </p>
        )}
      </SoundingsSection>
      <SoundingsSection title="Their own page">
        {page && link === null ? (
          <p className={css['dim']}>Their link is shown to those who may change how people are asked.</p>
        ) : page && link !== null ? (
          <>
            <CopyText label="The link of their page" text={link} />
            {mayEdit && (
              <p>
                <Button onClick={() => void write()}>Send it to them</Button>
              </p>
            )}
          </>
        ) : (
          <p className={css['dim']}>Once the page is in force, they have a link to it.</p>
        )}
      </SoundingsSection>
      <SoundingsSection title="What they chose">
        {records.length === 0 ? (
          <p className={css['dim']}>Nothing is on record.</p>
        ) : (
          records.map((r) => <Chosen key={r.receipt.id} chosen={r} />)
        )}
        {mayErase && (
          <p>
            <Button onClick={() => setAsked('erase')}>Erase on request</Button>
          </p>
        )}
      </SoundingsSection>
      {asked === 'leave' && (
        <SayLeft path={path} reasons={page?.content.reasons ?? []} onClose={() => setAsked(undefined)} />
      )}
      {asked === 'erase' && (
        <ErasePerson path={path} address={person.address} onClose={() => setAsked(undefined)} />
      )}
    </article>
  );
}

type Person = AnswerOf<typeof personApi.GET>['person'];

function verdictOf({ stands, channels, topics, saidAt, saidSelf, leftAt }: Person): string {
  switch (stands) {
    case 'never asked':
      return '✕ No: they never said that they may.';
    case 'left':
      return `✕ No: they want nothing, since ${whenWords(leftAt ?? saidAt ?? '')}.`;
    case 'says yes':
      return `✓ By ${channels.map(channelName).join(', ')} about ${topics.map(plainName).join(', ')}, as ${saidSelf ? 'they said themselves' : 'a list or an account told'} ${whenWords(saidAt ?? '')}.`;
  }
}

/** One choice with its place in the ledger, checked here in the browser. */
function Chosen({
  chosen: { receipt, words, digest, proof, matches },
}: {
  readonly chosen: OpenedPreference;
}) {
  const verified = proof ? verifyEntry(proof) : false;
  const grounds: Ground[] = proof
    ? [
        {
          mark: matches && verified ? '✓' : '◆',
          words:
            matches && verified
              ? `Sealed ${whenWords(proof.tree.sealedAt)}, entry ${proof.index + 1} of tree ${proof.tree.number}`
              : 'The ledger holds another digest: the record was changed',
        },
      ]
    : [{ mark: '○', words: 'Waiting to be sealed, which happens every few seconds' }];
  return (
    <div className={css['chosen']}>
      <p>
        <b>{receipt.act}</b> {whenWords(receipt.at)}, by {BY[receipt.by]}, page version {receipt.page}
        {receipt.reason !== '' && ` · because: ${plainName(receipt.reason)}`}
        {words !== '' && ` · “${words}”`}
      </p>
      <p className={css['dim']}>
        {receipt.channels.length === 0
          ? 'Nothing'
          : `By ${receipt.channels.map(channelName).join(', ')} about ${receipt.topics.map(plainName).join(', ')}`}
        , asked of {receipt.asked.channels.map(channelName).join(', ')} and{' '}
        {receipt.asked.topics.map(plainName).join(', ')}
      </p>
      <GroundList grounds={grounds} />
      <a
        href={`data:application/json,${encodeURIComponent(JSON.stringify({ receipt, digest, proof: proof ?? null }, null, 2))}`}
        download={`receipt-${receipt.id}.json`}
      >
        Export the receipt with its proof
      </a>
    </div>
  );
}

const BY = {
  link: 'their link',
  'one click': 'one click in their mail',
  account: 'an account here',
  list: 'a list',
} as const;

function SayLeft({
  path,
  reasons,
  onClose,
}: {
  readonly path: string;
  readonly reasons: readonly string[];
  readonly onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const [words, setWords] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title="They want nothing more"
      onClose={onClose}
      act="Put it on record"
      busy={busy}
      disabled={words.trim() === ''}
      onSubmit={() =>
        send(async () => {
          await request('POST', path, { reason, words: words.trim() });
          tell('On record, and mailing tools are told.');
          onClose();
        })
      }
    >
      <Field label="Why">
        <select value={reason} onChange={(e) => setReason(e.target.value)}>
          <option value="">They did not say</option>
          {reasons.map((r) => (
            <option key={r} value={r}>
              {plainName(r)}
            </option>
          ))}
        </select>
      </Field>
      <Field label="How did they tell you?" error={error('words') ?? refused?.message}>
        <textarea rows={2} value={words} onChange={(e) => setWords(e.target.value)} />
      </Field>
    </DialogForm>
  );
}

function ErasePerson({
  path,
  address,
  onClose,
}: {
  readonly path: string;
  readonly address: string;
  readonly onClose: () => void;
}) {
  const [because, setBecause] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title={`Erase ${address}`}
      onClose={onClose}
      act="Erase them"
      busy={busy}
      disabled={because.trim() === ''}
      onSubmit={() =>
        send(async () => {
          await request('DELETE', path, { because: because.trim() });
          tell('Erased. The ledger keeps the digests, and mailing tools are told to send nothing.');
          setQuery({ person: null });
        })
      }
    >
      <Field
        label="Who asked, and where?"
        hint="It cannot be undone. Without a record nobody knows any more that they left: see that no list brings them back. What you write stays in the ledger: give the case, and no name."
        error={error('because') ?? refused?.message}
      >
        <textarea autoFocus rows={2} value={because} onChange={(e) => setBecause(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
