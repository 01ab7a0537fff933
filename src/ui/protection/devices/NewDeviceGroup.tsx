import { useState } from 'react';
import { setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';

export function NewDeviceGroup() {
  const [name, setName] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title="New group of devices"
      onClose={() => setQuery({ new: null })}
      onSubmit={() =>
        send(async () => {
          await request('POST', '/api/protection/devices/groups', { name });
          tell('Made. Devices are put in it on their sheets, or come into it as they are let in.');
          setQuery({ new: null });
        })
      }
      act="Make it"
      busy={busy}
      refused={error('name') ? undefined : refused?.message}
    >
      <Field label="What it is called" error={error('name')}>
        <input
          autoFocus
          value={name}
          maxLength={120}
          placeholder="On board"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
    </DialogForm>
  );
}
