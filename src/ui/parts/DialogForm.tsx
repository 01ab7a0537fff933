import type { FormEvent, ReactNode } from 'react';
import { Button } from './Button.tsx';
import { Dialog } from './Dialog.tsx';
import css from './DialogForm.module.css';

interface DialogFormProps {
  readonly title: string;
  readonly onClose: () => void;
  readonly onSubmit: (e: FormEvent) => void | Promise<void>;
  /** What sending does, in words. */
  readonly act: string;
  /** The same while it is under way. */
  readonly actBusy?: string;
  readonly busy?: boolean;
  readonly disabled?: boolean;
  /** What was refused and belongs to none of the fields. */
  readonly refused?: string | undefined;
  readonly moreActs?: ReactNode;
  readonly children: ReactNode;
}

/** A form in a window over the desk: its fields, what was refused, and the acts below. */
export function DialogForm({
  title,
  onClose,
  onSubmit,
  act,
  actBusy = act,
  busy = false,
  disabled = false,
  refused,
  moreActs,
  children,
}: DialogFormProps) {
  return (
    <Dialog title={title} onClose={onClose}>
      <form
        className={css['form']}
        noValidate
        onSubmit={(e) => {
          e.preventDefault();
          void onSubmit(e);
        }}
      >
        {children}
        {refused && <p role="alert">◆ {refused}</p>}
        <div className={css['acts']}>
          <Button type="submit" kind="primary" busy={busy} disabled={disabled}>
            {busy ? actBusy : act}
          </Button>
          {moreActs}
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}
