import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import type * as searchApi from '../../../pages/api/access/places/search.ts';
import type { HandsSide } from '../../../core/access/hands/hands-rule.ts';
import { STRENGTHS, type Strength } from '../../../core/access/reach/strength.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { setQuery } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { ChoiceField } from '../../parts/ChoiceField.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { PrincipalPicker, type Picked } from '../PrincipalPicker.tsx';
import css from '../access.module.css';

interface TypedSide {
  readonly is: 'group' | 'place';
  readonly chosen: readonly Picked[];
  readonly strength: Strength;
}

const BEGUN: TypedSide = { is: 'group', chosen: [], strength: 'change' };

/** Two things that nobody may have together. */
export function NewHandsRule() {
  const [name, setName] = useState('');
  const [one, setOne] = useState(BEGUN);
  const [other, setOther] = useState(BEGUN);
  const { busy, refused, error, send } = useSending();
  const close = () => setQuery({ new: null });
  const add = async () => {
    await request('POST', '/api/access/hands', { name, one: sideOf(one), other: sideOf(other) });
    close();
  };
  const isWhole = one.chosen.length > 0 && other.chosen.length > 0;
  return (
    <DialogForm
      title="What takes two pairs of hands"
      onClose={close}
      onSubmit={() => send(add)}
      act="Look for it from now on"
      busy={busy}
      disabled={!isWhole}
      refused={
        refused && !error('name')
          ? [refused.message, ...refused.refusal.fields.map((f) => f.message)].join(' ')
          : undefined
      }
    >
      <Field label="What it is called" error={error('name')}>
        <input
          value={name}
          maxLength={200}
          placeholder="Payments: made by one, approved by another"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <Side label="Nobody has" side={one} onChange={setOne} />
      <Side label="Together with" side={other} onChange={setOther} />
    </DialogForm>
  );
}

function sideOf({ is, chosen, strength }: TypedSide): HandsSide {
  const key = chosen[0]?.key ?? '';
  return is === 'group' ? { is, group: key } : { is, place: key, strength };
}

function Side({
  label,
  side,
  onChange,
}: {
  readonly label: string;
  readonly side: TypedSide;
  readonly onChange: (side: TypedSide) => void;
}) {
  return (
    <>
      <ChoiceField
        label={label}
        value={side.is}
        options={[
          { value: 'group', words: 'being in a group' },
          { value: 'place', words: 'reaching a place' },
        ]}
        onChange={(is) => onChange({ ...side, is: is as TypedSide['is'], chosen: [] })}
      />
      {side.is === 'group' ? (
        <PrincipalPicker
          label={`${label}: which group`}
          only="group"
          most={1}
          chosen={side.chosen}
          onChange={(chosen) => onChange({ ...side, chosen })}
        />
      ) : (
        <>
          <PlacePicker
            label={`${label}: which place`}
            chosen={side.chosen}
            onChange={(chosen) => onChange({ ...side, chosen })}
          />
          <ChoiceField
            label={`${label}: at least`}
            value={side.strength}
            options={STRENGTHS.map((s) => ({ value: s, words: s }))}
            onChange={(s) => onChange({ ...side, strength: s as Strength })}
          />
        </>
      )}
    </>
  );
}

function PlacePicker({
  label,
  chosen,
  onChange,
}: {
  readonly label: string;
  readonly chosen: readonly Picked[];
  readonly onChange: (chosen: readonly Picked[]) => void;
}) {
  const [text, setText] = useState('');
  const found = useQuery({
    queryKey: ['access-places', 'search', text],
    enabled: text.trim() !== '',
    queryFn: () =>
      request<AnswerOf<typeof searchApi.GET>>('GET', `/api/access/places/search${queryString({ text })}`),
  });
  const [one] = chosen;
  if (one)
    return (
      <ul className={css['picked']} aria-label={label}>
        <li>
          {one.name}
          <button type="button" aria-label={`Take ${one.name} out`} onClick={() => onChange([])}>
            ×
          </button>
        </li>
      </ul>
    );
  return (
    <>
      <Field label={label}>
        <input type="search" value={text} onChange={(e) => setText(e.target.value)} />
      </Field>
      <ul className={css['found']} aria-label={`${label}: found`}>
        {(found.data ?? []).slice(0, 6).map((p) => (
          <li key={p.key}>
            <button type="button" onClick={() => onChange([{ key: p.key, name: p.name }])}>
              {p.name} <small>{p.path}</small>
            </button>
          </li>
        ))}
      </ul>
    </>
  );
}
