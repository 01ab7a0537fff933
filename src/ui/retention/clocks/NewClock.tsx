import { useState } from 'react';
import { CLOCK_WAYS } from '../../../core/retention/clock/clock-content.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { ChoiceField } from '../../parts/ChoiceField.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { clockLink } from '../links.ts';

/** Names what is counted from, and says where it is told. */
export function NewClock() {
  const [name, setName] = useState('');
  const [way, setWay] = useState('name');
  const { busy, refused, error, send } = useSending();
  const add = async () =>
    go(clockLink((await request<{ id: number }>('POST', '/api/retention/clocks', { name, way })).id));
  return (
    <DialogForm
      title="New clock"
      onClose={() => setQuery({ new: null })}
      onSubmit={() => send(add)}
      act="Begin it"
      busy={busy}
      refused={error('name') ? undefined : refused?.message}
    >
      <Field label="What is counted from, as it follows “after”" error={error('name')}>
        <input
          autoFocus
          value={name}
          maxLength={120}
          placeholder="the sailing’s arrival"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <ChoiceField
        label="Told by"
        value={way}
        options={Object.entries(CLOCK_WAYS).map(([value, words]) => ({ value, words }))}
        onChange={setWay}
      />
    </DialogForm>
  );
}
