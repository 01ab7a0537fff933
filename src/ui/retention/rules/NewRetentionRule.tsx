import { useState } from 'react';
import { parseLens } from '../../../core/lens/lens-text.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { LensChoice } from '../../holdings/offers.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { retentionRuleLink } from '../links.ts';

/** Names a rule and the lens it begins with; all of it can be changed on its sheet. */
export function NewRetentionRule() {
  const { query } = useDeskLocation();
  const asked = query.get('lens') ?? '';
  const [name, setName] = useState('');
  const [line, setLine] = useState(asked || 'everything');
  const { busy, refused, error, send } = useSending();
  const add = async () => {
    const { id } = await request<{ id: string }>('POST', '/api/retention/rules', {
      name,
      lens: parseLens(line),
    });
    go(retentionRuleLink(id));
  };
  return (
    <DialogForm
      title="New retention rule"
      onClose={() => setQuery({ new: null, lens: null })}
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
          placeholder="Boarding manifests"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <LensChoice label="What it keeps" asked={asked} line={line} onChange={setLine} />
    </DialogForm>
  );
}
