import { useState } from 'react';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { levelLink } from '../links.ts';

export function NewLevel() {
  const [name, setName] = useState('');
  const { busy, refused, error, send } = useSending();
  const add = async () => {
    const { id } = await request<{ id: string }>('POST', '/api/protection/levels', { name });
    go(levelLink(id));
  };
  return (
    <DialogForm
      title="New level"
      onClose={() => setQuery({ new: null })}
      onSubmit={() => send(add)}
      act="Begin its draft"
      busy={busy}
      refused={error('name') ? undefined : refused?.message}
    >
      <Field label="What it is called" error={error('name')}>
        <input
          autoFocus
          value={name}
          maxLength={80}
          placeholder="Confidential"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <p>It begins stronger than all others. How it shows, and where, is said on its sheet.</p>
    </DialogForm>
  );
}
