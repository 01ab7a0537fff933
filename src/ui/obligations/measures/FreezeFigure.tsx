import { useState } from 'react';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { ChoiceField } from '../../parts/ChoiceField.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { useTestedFigures } from '../use-obligations.ts';
import css from '../obligations.module.css';

/** Keeps a figure of the program as it shows now: what it shows later does not change the evidence. */
export function FreezeFigure({ path, onClose }: { readonly path: string; readonly onClose: () => void }) {
  const figures = useTestedFigures();
  const [figure, setFigure] = useState('');
  const [until, setUntil] = useState('');
  const { busy, refused, error, send } = useSending();
  const chosen = figures.data?.find((f) => f.id === figure);
  const last = chosen?.days.at(-1);
  const keep = async () => {
    await request('POST', `${path}/figure`, { figure, until: until === '' ? null : until });
    tell('It is kept as it shows now.');
    onClose();
  };
  return (
    <DialogForm
      title="Keep what the program shows now"
      onClose={onClose}
      onSubmit={() => send(keep)}
      act="Keep it"
      busy={busy}
      disabled={figure === ''}
      refused={error('figure') || error('until') ? undefined : refused?.message}
    >
      <ChoiceField
        label="Figure"
        value={figure}
        options={[
          { value: '', words: 'choose a figure' },
          ...(figures.data ?? []).map((f) => ({ value: f.id, words: f.name })),
        ]}
        onChange={setFigure}
      />
      {error('figure') && <p role="alert">◆ {error('figure')}</p>}
      {chosen && (
        <p className={css['note']}>
          {chosen.definition} It shows{' '}
          {last === undefined || last.value === null
            ? 'nothing yet'
            : `${last.value}${last.of === undefined ? '' : ` of ${last.of}`}`}
          ; its last 90 days are kept with it.
        </p>
      )}
      <Field label="Counts until" hint="Empty where it has no end" error={error('until')}>
        <input type="date" value={until} onChange={(e) => setUntil(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
