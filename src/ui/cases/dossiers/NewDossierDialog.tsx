import { useQueryClient } from '@tanstack/react-query';
import { useState, type ReactNode } from 'react';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { DOSSIERS, dossierLink, type DossierWhat } from '../links.ts';

/** Begins one by its name; `more` is sent with it, and stands for the name where it has one of its own. */
export function NewDossierDialog({
  what,
  placeholder,
  more = {},
  children,
}: {
  readonly what: DossierWhat;
  readonly placeholder: string;
  readonly more?: object;
  readonly children?: ReactNode;
}) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title={`A new ${DOSSIERS[what].one}`}
      onClose={() => setQuery({ new: null })}
      onSubmit={() =>
        send(async () => {
          const { id } = await request<{ id: number }>(
            'POST',
            DOSSIERS[what].place.replace('/cases', '/api/cases'),
            { name, ...more },
          );
          await client.invalidateQueries({ queryKey: [`${what} list`] });
          go(dossierLink(what, id));
        })
      }
      act="Begin it"
      busy={busy}
      refused={error('name') ? undefined : (error('card') ?? refused?.message)}
    >
      <Field label="What it is called" error={error('name')}>
        <input
          autoFocus
          value={name}
          maxLength={160}
          placeholder={placeholder}
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      {children}
    </DialogForm>
  );
}
