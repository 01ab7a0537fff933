import { useState } from 'react';
import { GROUP_KINDS, type GroupKind } from '../../../core/protection/handling/channel.ts';
import { MEMBER_WORDS } from '../../../core/protection/handling/named-group.ts';
import { linesOf } from '../../../core/rules/sentence.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { namedGroupLink } from '../links.ts';

/** Names things of one kind together. */
export function NewGroup() {
  const [name, setName] = useState('');
  const [kind, setKind] = useState<GroupKind>('destinations');
  const [members, setMembers] = useState('');
  const { busy, refused, error, send } = useSending();
  const add = async () => {
    const body = { name, kind, ours: false, members: linesOf(members) };
    const { id } = await request<{ id: number }>('POST', '/api/protection/groups', body);
    go(namedGroupLink(String(id)));
  };
  const wrong = refused?.refusal.fields.find((f) => f.field.startsWith('members'))?.message;
  return (
    <DialogForm
      title="New group"
      onClose={() => setQuery({ new: null })}
      onSubmit={() => send(add)}
      act="Make it"
      busy={busy}
      refused={error('name') || wrong ? undefined : refused?.message}
    >
      <Field label="What it is called" error={error('name')}>
        <input
          autoFocus
          value={name}
          maxLength={120}
          placeholder="Ship’s own drives"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <SelectField
        label="What it is of"
        value={kind}
        options={GROUP_KINDS.map((value) => ({ value, words: value }))}
        onChange={(k) => setKind(k as GroupKind)}
      />
      <Field label="Members, one a line" hint={`${MEMBER_WORDS[kind]}.`} error={wrong}>
        <textarea rows={5} value={members} onChange={(e) => setMembers(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
