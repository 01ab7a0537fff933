import { useState } from 'react';
import { RequestError } from '../../desk/request.ts';
import { Button } from '../../parts/Button.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { Field } from '../../parts/Field.tsx';
import css from '../websites.module.css';

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
  const [error, setError] = useState<unknown>();
  const [busy, setBusy] = useState(false);
  const decide = async () => {
    setBusy(true);
    try {
      await onDecide(because.trim());
    } catch (e) {
      setError(e);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog title={`${names}: essential, because …`} onClose={onClose}>
      <form
        className={css['form']}
        onSubmit={(e) => {
          e.preventDefault();
          void decide();
        }}
      >
        <Field
          label="What does a visitor ask for that cannot work without it?"
          hint="It will run before any choice and after a refusal. The reason goes to the ledger under your name."
          error={error instanceof RequestError ? (error.field('because') ?? error.message) : undefined}
        >
          <textarea autoFocus rows={3} value={because} onChange={(e) => setBecause(e.target.value)} />
        </Field>
        <div className={css['formActs']}>
          <Button type="submit" kind="primary" busy={busy} disabled={because.trim() === ''}>
            It is essential
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}
