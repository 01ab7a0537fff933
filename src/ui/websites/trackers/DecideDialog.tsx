import { useState } from 'react';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';

/** Asks why something is essential; the reason goes to the ledger. */
export function DecideDialog({
  names,
  onClose,
  onDecide,
}: {
  readonly names: string;
  readonly onClose: () => void;
  readonly onDecide: (because: string) => Promise<void>;
}) {
  const [because, setBecause] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title={`${names}: essential, because …`}
      onClose={onClose}
      onSubmit={() => send(() => onDecide(because.trim()))}
      act="It is essential"
      busy={busy}
      disabled={because.trim() === ''}
    >
      <Field
        label="What does a visitor ask for that cannot work without it?"
        hint="It will run before any choice and after a refusal. The reason goes to the ledger under your name."
        error={error('because') ?? refused?.message}
      >
        <textarea autoFocus rows={3} value={because} onChange={(e) => setBecause(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
