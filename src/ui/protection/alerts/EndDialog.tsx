import { useState } from 'react';
import type { AlertAct } from '../../../core/protection/alerts/alert.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';

export type Noted = Extract<AlertAct['act'], 'solve' | 'set aside' | 'open again' | 'note'>;

const ASKS: Readonly<Record<Noted, { title: string; label: string; act: string; hint: string }>> = {
  solve: {
    ...{ title: 'Solved', label: 'What was done about it', act: 'It is solved' },
    hint: 'Talked to him; the list is off the stick.',
  },
  'set aside': {
    ...{ title: 'Set aside', label: 'Why it was none', act: 'Set it aside' },
    hint: 'A fire drill; it never counts as solved.',
  },
  'open again': { title: 'Open again', label: 'Why', act: 'Open it again', hint: 'It happened again.' },
  note: { title: 'Note', label: 'For the timeline', act: 'Note it', hint: 'Waiting for the port office.' },
};

/** Asks for the words that go with an act on alerts. */
export function EndDialog({
  does,
  send: put,
  onClose,
}: {
  readonly does: Noted;
  readonly send: (act: AlertAct) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const [note, setNote] = useState('');
  const { busy, refused, error, send } = useSending();
  const asks = ASKS[does];
  return (
    <DialogForm
      title={asks.title}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put({ act: does, note });
          onClose();
        })
      }
      act={asks.act}
      busy={busy}
      refused={error('does.note', 'act.note') ? undefined : refused?.message}
    >
      <Field label={asks.label} error={error('does.note', 'act.note')}>
        <textarea
          autoFocus
          rows={3}
          maxLength={1000}
          value={note}
          placeholder={asks.hint}
          onChange={(e) => setNote(e.target.value)}
        />
      </Field>
    </DialogForm>
  );
}
