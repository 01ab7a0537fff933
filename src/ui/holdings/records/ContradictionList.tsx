import { useState } from 'react';
import type { CheckedContradiction } from '../../../server/holdings/records/record-check.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryClient } from '../../desk/changed.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { dayWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { activityLink, lensLink, systemLink } from '../links.ts';
import css from '../estate.module.css';

/** Where records and estate contradict each other, each opened to its items, accepted with a reason. */
export function ContradictionList({ found }: { readonly found: readonly CheckedContradiction[] }) {
  const [accepting, setAccepting] = useState<CheckedContradiction>();
  const may = useMay('holdings.records');
  const send = async (key: string, reason: string | null) => {
    await request('POST', '/api/holdings/activities/contradictions', { key, reason });
    tell(reason === null ? 'It is open again.' : 'Accepted, with the reason on record.');
    await queryClient.invalidateQueries({ queryKey: ['contradictions'] });
  };
  return (
    <>
      <ul className={css['why']} aria-label="Contradictions">
        {found.map((c) => (
          <li key={c.key}>
            {c.accepted ? '✓' : <span className={css['mark']}>◆</span>} {c.words}
            <br />
            <span className={css['judged']}>
              {c.because} {c.lens && <a href={lensLink(c.lens)}>Open the items</a>}{' '}
              {c.activity && <a href={activityLink(c.activity)}>Open the record</a>}{' '}
              {c.system && <a href={systemLink(c.system)}>Open the system</a>}
              {c.accepted &&
                ` · accepted by ${c.accepted.by}, ${dayWords(c.accepted.at)}: ${c.accepted.reason} `}
            </span>
            {may && (
              <Button
                kind="quiet"
                onClick={() => (c.accepted ? void send(c.key, null).catch(tellFailure) : setAccepting(c))}
              >
                {c.accepted ? 'Open it again' : 'Accept it'}
              </Button>
            )}
          </li>
        ))}
      </ul>
      {accepting && (
        <Accept
          words={accepting.words}
          onClose={() => setAccepting(undefined)}
          onSend={async (reason) => {
            await send(accepting.key, reason);
            setAccepting(undefined);
          }}
        />
      )}
    </>
  );
}

function Accept({
  words,
  onClose,
  onSend,
}: {
  readonly words: string;
  readonly onClose: () => void;
  readonly onSend: (reason: string) => Promise<void>;
}) {
  const [reason, setReason] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title="Accept it as it is"
      onClose={onClose}
      onSubmit={() => send(() => onSend(reason))}
      act="Accept it"
      busy={busy}
      disabled={reason.trim() === ''}
    >
      <p>{words}.</p>
      <Field
        label="Why it is as it should be"
        hint="Stands in the ledger with your name."
        error={error('reason') ?? refused?.message}
      >
        <input value={reason} maxLength={400} onChange={(e) => setReason(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
