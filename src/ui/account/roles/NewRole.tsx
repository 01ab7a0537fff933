import { useState } from 'react';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { countWords } from '../../desk/words.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { roleLink } from '../links.ts';
import { useRoleOutlook } from './use-roles.ts';

/** `used:3` begins with what is used of the role 3, `all:3` with all of it. */
function readFrom(from: string | null): { of: 'used' | 'all'; id: string } | undefined {
  const [of, ...id] = (from ?? '').split(':');
  return of === 'used' || of === 'all' ? { of, id: id.join(':') } : undefined;
}

/** Begins a role: with nothing, or with what another allows or is used for. */
export function NewRole({ from }: { readonly from: string | null }) {
  const begun = readFrom(from);
  return begun ? <FromRole {...begun} /> : <Ask actions={[]} name="" />;
}

function FromRole({ of, id }: { readonly of: 'used' | 'all'; readonly id: string }) {
  const { data } = useRoleOutlook(id);
  if (!data) return null;
  return (
    <Ask
      actions={of === 'all' ? data.actions : data.used.map((u) => u.action)}
      name={of === 'all' ? `${data.name}, ours` : `${data.name}, narrower`}
    />
  );
}

function Ask({ actions, name: begun }: { readonly actions: readonly string[]; readonly name: string }) {
  const [name, setName] = useState(begun);
  const { busy, refused, error, send } = useSending();
  const add = async () =>
    go(roleLink((await request<{ id: string }>('POST', '/api/accounts/roles', { name, actions })).id));
  return (
    <DialogForm
      title="New role"
      onClose={() => setQuery({ new: null, from: null })}
      onSubmit={() => send(add)}
      act="Begin its draft"
      busy={busy}
      refused={
        error('name')
          ? undefined
          : refused && [refused.message, ...refused.refusal.fields.map((f) => f.message)].join(' ')
      }
    >
      <Field label="What it is called" error={error('name')}>
        <input
          autoFocus
          value={name}
          maxLength={80}
          placeholder="Reads the ledger"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <p>
        {actions.length === 0
          ? 'What it allows is said on its sheet.'
          : `It begins with ${countWords(actions.length, 'permission')}, and allows nothing before it is in force.`}
      </p>
    </DialogForm>
  );
}
