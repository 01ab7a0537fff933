import { useState } from 'react';
import { STRENGTHS, type Strength } from '../../../core/access/reach/strength.ts';
import type * as changesApi from '../../../pages/api/access/changes/index.ts';
import type { ChangeWish } from '../../../server/access/index/change-answers.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { ChoiceField } from '../../parts/ChoiceField.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { PrincipalPicker, type Picked } from '../PrincipalPicker.tsx';
import { changeLink } from '../links.ts';
import { usePerson, usePlace } from '../use-access.ts';

type Act = 'give' | 'copy' | 'move' | 'member';

const WORDS: Readonly<Record<Strength, string>> = {
  see: 'know that it is there',
  read: 'read it',
  change: 'change it',
  give: 'give it to others',
};

/** What is to be changed, as far as a choice is needed; what follows is looked at before anything is done. */
export function ChangeDialog({ query }: { readonly query: URLSearchParams }) {
  const act = (query.get('act') ?? 'give') as Act;
  const place = query.get('place') ?? '';
  const person = query.get('person') ?? '';
  const [to, setTo] = useState<readonly Picked[]>([]);
  const [out, setOut] = useState<readonly Picked[]>([]);
  const [strength, setStrength] = useState<Strength>('read');
  const [until, setUntil] = useState('');
  const [reason, setReason] = useState('');
  const title = useTitle(act, place, person);
  const { busy, refused, send } = useSending();
  const close = () => setQuery({ new: null, act: null });
  const keys = to.map((t) => t.key);
  const wish = (): ChangeWish => {
    switch (act) {
      case 'give':
        return { act, place, to: keys, strength, deny: false, until: until === '' ? null : until };
      case 'copy':
        return { act, from: person, to: keys };
      case 'move':
        return { act, from: person, to: keys[0] ?? '' };
      case 'member':
        return { act, group: person, add: keys, take: out.map((o) => o.key) };
    }
  };
  const make = async () => {
    const { id } = await request<AnswerOf<typeof changesApi.POST>>('POST', '/api/access/changes', {
      wish: wish(),
      reason,
    });
    go(changeLink(id));
  };
  const fields = refused?.refusal.fields ?? [];
  const none = to.length === 0 && out.length === 0;
  return (
    <DialogForm
      title={title}
      onClose={close}
      onSubmit={() => send(make)}
      act="Rehearse it"
      busy={busy}
      disabled={none}
      refused={refused && [refused.message, ...fields.map((f) => f.message)].join(' ')}
    >
      <PrincipalPicker
        label={act === 'member' ? 'Who is to be in it' : 'To whom'}
        chosen={to}
        onChange={setTo}
        most={act === 'move' ? 1 : 100}
        {...(act === 'copy' || act === 'move' ? { only: 'person' as const } : {})}
      />
      {act === 'member' && <PrincipalPicker label="Who is to be out of it" chosen={out} onChange={setOut} />}
      {act === 'give' && (
        <>
          <ChoiceField
            label="What they can do"
            value={strength}
            options={STRENGTHS.map((s) => ({ value: s, words: WORDS[s] }))}
            onChange={(s) => setStrength(s as Strength)}
          />
          <Field label="Until" hint="Nothing for as long as it is not taken away">
            <input type="date" value={until} onChange={(e) => setUntil(e.target.value)} />
          </Field>
        </>
      )}
      <Field label="Why">
        <input type="text" maxLength={1000} value={reason} onChange={(e) => setReason(e.target.value)} />
      </Field>
    </DialogForm>
  );
}

function useTitle(act: Act, place: string, person: string): string {
  const at = usePlace(act === 'give' ? place : '');
  const of = usePerson(act === 'give' ? '' : person);
  const name = of.data?.name;
  switch (act) {
    case 'give':
      return `Give access at ${at.data?.name ?? 'this place'}`;
    case 'copy':
      return `Copy the access of ${name ?? 'this person'}`;
    case 'move':
      return `Move the access of ${name ?? 'this person'}`;
    case 'member':
      return `Who is in ${name ?? 'this group'}`;
  }
}
