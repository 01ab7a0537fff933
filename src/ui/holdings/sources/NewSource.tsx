import { useState } from 'react';
import { SOURCE_KINDS, USUAL_SOURCE, type SourceKind } from '../../../core/holdings/sources/source.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { sourceLink, systemLink } from '../links.ts';
import { AddressFields, typedAddress, type TypedAddress } from './AddressFields.tsx';
import { useSystems } from './use-sources.ts';

/** Takes in a source: its address is tried before it is kept. */
export function NewSource() {
  const close = () => setQuery({ new: null });
  const systems = useSystems();
  const [name, setName] = useState('');
  const [kind, setKind] = useState<SourceKind>('folder');
  const [system, setSystem] = useState('');
  const [typed, setTyped] = useState<TypedAddress>({});
  const [secret, setSecret] = useState('');
  const { busy, refused, error: errorOf, send } = useSending();
  const error = (field: string) => errorOf(field, `address.${field}`, `content.${field}`);
  const take = async () => {
    const { id } = await request<{ id: number }>('POST', '/api/holdings/sources', {
      content: { ...USUAL_SOURCE, name, system: system === '' ? null : Number(system) },
      address: typedAddress(kind, typed),
      secret,
    });
    tell(`${name} is taken in. Survey it to see what it holds.`);
    go(sourceLink(id));
  };
  const unplaced = refused && !FIELDS.some((f) => error(f)) ? refused.message : undefined;
  return (
    <DialogForm
      title="Take in a source"
      onClose={close}
      onSubmit={() => send(take)}
      act="Try it and take it in"
      actBusy="Trying to open it"
      busy={busy}
    >
      <Field label="What it is called" error={error('name') ?? unplaced}>
        <input
          autoFocus
          value={name}
          maxLength={120}
          placeholder="Port share"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <Field label="Kind">
        <select value={kind} onChange={(e) => setKind(e.target.value as SourceKind)}>
          {Object.entries(SOURCE_KINDS).map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
      </Field>
      <Field label="System whose data lies there" error={error('system')}>
        <select value={system} onChange={(e) => setSystem(e.target.value)}>
          <option value="">none yet</option>
          {(systems.data?.rows ?? []).map((s) => (
            <option key={s.id} value={s.id}>
              {s.name}
            </option>
          ))}
        </select>
      </Field>
      <AddressFields
        kind={kind}
        typed={typed}
        secret={secret}
        error={error}
        onType={(key, value) => setTyped({ ...typed, [key]: value })}
        onSecret={setSecret}
      />
    </DialogForm>
  );
}

const FIELDS = [
  'name',
  'system',
  'root',
  'host',
  'port',
  'user',
  'database',
  'endpoint',
  'bucket',
  'prefix',
  'secret',
];

/** Takes in a system by its name; the rest is said on its sheet. */
export function NewSystem() {
  const close = () => setQuery({ new: null });
  const [name, setName] = useState('');
  const { busy, refused, error, send } = useSending();
  const take = async () => {
    const { id } = await request<{ id: number }>('POST', '/api/holdings/systems', {
      name,
      about: '',
      owner: '',
      steward: null,
      country: '',
      vendors: [],
      notes: '',
    });
    tell(`${name} is taken in. Say who answers for it.`);
    go(systemLink(id));
  };
  return (
    <DialogForm
      title="Take in a system"
      onClose={close}
      onSubmit={() => send(take)}
      act="Take it in"
      busy={busy}
    >
      <Field
        label="What it is called"
        hint="What people call it: Booking, Payroll, Saltmiles."
        error={error('name') ?? refused?.message}
      >
        <input autoFocus value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
