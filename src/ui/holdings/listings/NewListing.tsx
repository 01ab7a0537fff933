import { useState } from 'react';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { Segments } from '../../parts/Segments.tsx';
import { listingLink } from '../links.ts';
import { AccountFields, type TypedAccount } from './AccountFields.tsx';
import css from '../estate.module.css';

type Kind = 'account' | 'table';

/** Adds a listing: an account is asked for its first page before it is kept; a table is sent on its sheet. */
export function NewListing() {
  const close = () => setQuery({ new: null });
  const [kind, setKind] = useState<Kind>('account');
  const [name, setName] = useState('');
  const [typed, setTyped] = useState<TypedAccount>({ url: '', secret: '', certificate: '' });
  const { busy, refused, error: errorOf, send } = useSending();
  const add = async () => {
    const { id } = await request<{ id: number }>('POST', '/api/holdings/listings', {
      content: { name, schedule: null, tell: [], owners: [] },
      address:
        kind === 'account' ? { kind, url: typed.url.trim(), certificate: typed.certificate } : { kind },
      secret: kind === 'account' ? typed.secret : '',
    });
    if (kind === 'account') await request('POST', `/api/holdings/listings/${id}/read`, {});
    tell(kind === 'account' ? `${name} answers. It is being read.` : `${name} waits for its table.`);
    go(listingLink(id));
  };
  const error = (field: string) => errorOf(field, `content.${field}`, `address.${field}`);
  const placed = ['name', 'url', 'secret', 'certificate'].some((f) => error(f));
  return (
    <DialogForm
      title="Find sources"
      onClose={close}
      onSubmit={() => send(add)}
      act={kind === 'table' ? 'Go on' : 'Ask it and keep it'}
      actBusy={kind === 'table' ? 'Go on' : 'Asking it'}
      busy={busy}
    >
      <Segments
        label="From"
        value={kind}
        options={[
          { value: 'account', words: 'The listing of an account' },
          { value: 'table', words: 'A workbook or CSV' },
        ]}
        onChange={(value) => setKind(value as Kind)}
      />
      <Field label="What it is called" error={error('name') ?? (placed ? undefined : refused?.message)}>
        <input
          autoFocus
          value={name}
          maxLength={120}
          autoComplete="off"
          placeholder={kind === 'account' ? 'Cloud account' : 'List of the IT department'}
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      {kind === 'account' ? (
        <AccountFields typed={typed} onType={setTyped} error={error} />
      ) : (
        <p className={css['note']}>
          You send the table on the next sheet and say there what its columns are. Sent again later, it is
          compared with what it said before.
        </p>
      )}
    </DialogForm>
  );
}
