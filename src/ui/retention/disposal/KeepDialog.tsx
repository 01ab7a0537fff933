import { useState } from 'react';
import { parseDay } from '../../../core/text/day.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';

/** Has all of a disposal stay, or some of it: with a reason, and up to a day. */
export function KeepDialog({
  id,
  items,
  onClose,
  onKept,
}: {
  readonly id: string;
  /** All of it without any. */
  readonly items: readonly number[] | undefined;
  readonly onClose: () => void;
  readonly onKept: () => void;
}) {
  const [reason, setReason] = useState('');
  const [until, setUntil] = useState('');
  const { busy, refused, error, send } = useSending();
  const keep = async () => {
    const day = until.trim() === '' ? null : (parseDay(until) ?? until);
    await (items
      ? request('POST', `/api/retention/disposals/${id}/keep`, { items, reason, until: day })
      : request('POST', `/api/retention/disposals/${id}/say`, { agrees: false, reason, until: day }));
    tell('They stay.');
    onKept();
    onClose();
  };
  return (
    <DialogForm
      title={items ? `Keep ${countWords(items.length, 'item')}` : 'Keep all of them'}
      onClose={onClose}
      onSubmit={() => send(keep)}
      act="Keep"
      busy={busy}
      refused={error('reason', 'until') ? undefined : refused?.message}
    >
      <Field label="Why they have to stay" error={error('reason')}>
        <input autoFocus value={reason} maxLength={400} onChange={(e) => setReason(e.target.value)} />
      </Field>
      <Field label="Until (no day: until it is taken back)" error={error('until')}>
        <input value={until} placeholder="30 Jun 2027" onChange={(e) => setUntil(e.target.value)} />
      </Field>
      <p>It is set on the items themselves, and more specific than any rule.</p>
    </DialogForm>
  );
}
