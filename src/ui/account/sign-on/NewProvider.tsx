import { useState } from 'react';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { CopyText } from '../../parts/CopyText.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { providerLink } from '../links.ts';
import { useProviders } from './use-providers.ts';

/** Adds a provider, whose configuration is read first. */
export function NewProvider() {
  const redirect = useProviders().data?.redirect ?? '';
  const [form, setForm] = useState({ name: '', issuer: '', clientId: '', clientSecret: '' });
  const { busy, refused, error, send } = useSending();
  const known = error('name') ?? error('issuer') ?? error('clientId') ?? error('clientSecret');
  const add = async () => {
    const { id } = await request<{ id: number }>('POST', '/api/accounts/providers', form);
    setQuery({ new: null });
    go(providerLink(id));
  };
  const input = (part: keyof typeof form, more: React.InputHTMLAttributes<HTMLInputElement> = {}) => (
    <input value={form[part]} onChange={(e) => setForm({ ...form, [part]: e.target.value })} {...more} />
  );
  return (
    <DialogForm
      title="Add a provider"
      act="Read how it is asked, and add it"
      actBusy="It is asked"
      busy={busy}
      refused={known ? (error('issuer') ? refused?.message : undefined) : refused?.message}
      onClose={() => setQuery({ new: null })}
      onSubmit={() => send(add)}
    >
      <p>At the provider, let this desk be a client that comes back here:</p>
      <CopyText label="Where it sends people back to" text={redirect} />
      <Field label="What people call it" error={error('name')}>
        {input('name', { autoFocus: true, maxLength: 120, placeholder: 'Harbour login' })}
      </Field>
      <Field label="Issuer" error={error('issuer')}>
        {input('issuer', { type: 'url', maxLength: 500, placeholder: 'https://login.example.org' })}
      </Field>
      <Field label="Client id" error={error('clientId')}>
        {input('clientId', { maxLength: 300 })}
      </Field>
      <Field label="Client secret" hint="Empty where it has none." error={error('clientSecret')}>
        {input('clientSecret', { type: 'password', maxLength: 500, autoComplete: 'off' })}
      </Field>
    </DialogForm>
  );
}
