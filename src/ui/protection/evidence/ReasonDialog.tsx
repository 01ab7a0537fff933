import { useState } from 'react';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';

/** Asks why before something is done that stands in the ledger with its reason. */
export function ReasonDialog({
  title,
  act,
  lost,
  send: work,
  onClose,
}: {
  readonly title: string;
  readonly act: string;
  /** What cannot be undone, if something cannot. */
  readonly lost: string | undefined;
  readonly send: (reason: string) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title={title}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await work(reason);
          onClose();
        })
      }
      act={act}
      busy={busy}
      refused={error('reason') ? undefined : refused?.message}
    >
      {lost && <p>{lost}</p>}
      <Field label="Why; it stands in the ledger" error={error('reason')}>
        <input autoFocus value={reason} maxLength={400} onChange={(e) => setReason(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
