import { useState } from 'react';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { publicationLink } from '../links.ts';

export function NewPublication() {
  const [name, setName] = useState('');
  const { busy, refused, error, send } = useSending();
  const add = async () => {
    const { id } = await request<{ id: string }>('POST', '/api/protection/publications', { name });
    go(publicationLink(id));
  };
  return (
    <DialogForm
      title="New publication"
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
          maxLength={120}
          placeholder="Crew office"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <p>
        It begins with all levels in force, for everyone. Which, for whom and in what order is said on its
        sheet.
      </p>
    </DialogForm>
  );
}
