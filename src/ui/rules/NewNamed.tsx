import { useState, type ReactNode } from 'react';
import { go, setQuery } from '../desk/location.ts';
import { request } from '../desk/request.ts';
import { DialogForm } from '../parts/DialogForm.tsx';
import { Field } from '../parts/Field.tsx';
import { useSending } from '../parts/use-sending.ts';

/** Begins a rule that has a name, and whatever else it needs to begin with. */
export function NewNamed({
  title,
  path,
  link,
  most,
  placeholder,
  fields,
  more = () => ({}),
  act = 'Begin its draft',
  children,
}: {
  readonly title: string;
  /** Of the endpoint that takes it in. */
  readonly path: string;
  readonly link: (id: string) => string;
  /** Characters. */
  readonly most: number;
  readonly placeholder: string;
  /** What it is asked besides, and what that comes to in what is sent. */
  readonly fields?: ReactNode;
  readonly more?: () => object | Promise<object>;
  /** What sending does, in words. */
  readonly act?: string;
  /** What it begins as. */
  readonly children?: ReactNode;
}) {
  const [name, setName] = useState('');
  const { busy, refused, error, send } = useSending();
  const add = async () =>
    go(link(String((await request<{ id: string | number }>('POST', path, { ...(await more()), name })).id)));
  return (
    <DialogForm
      title={title}
      onClose={() => setQuery({ new: null, lens: null, like: null })}
      onSubmit={() => send(add)}
      act={act}
      busy={busy}
      refused={error('name') ? undefined : refused?.message}
    >
      <Field label="What it is called" error={error('name')}>
        <input
          autoFocus
          value={name}
          maxLength={most}
          placeholder={placeholder}
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      {fields}
      {children && <p>{children}</p>}
    </DialogForm>
  );
}
