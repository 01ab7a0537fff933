import { useState } from 'react';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';

/** Has somebody else asked about lines. */
export function HandOnDialog({
  review,
  lines,
  onClose,
  onDone,
}: {
  readonly review: string;
  readonly lines: readonly number[];
  readonly onClose: () => void;
  readonly onDone: () => void;
}) {
  const [to, setTo] = useState('');
  const { busy, refused, error, send } = useSending();
  const hand = async () => {
    await request('POST', `/api/access/reviews/${review}/hand-on`, { lines, to });
    tell(`${to} is asked, and is written to.`);
    onDone();
    onClose();
  };
  return (
    <DialogForm
      title="Ask somebody else"
      onClose={onClose}
      onSubmit={() => send(hand)}
      act="Ask them"
      busy={busy}
      disabled={to === ''}
    >
      <Field label="Their address" error={error('to') ?? refused?.message}>
        <input type="email" value={to} maxLength={254} onChange={(e) => setTo(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
