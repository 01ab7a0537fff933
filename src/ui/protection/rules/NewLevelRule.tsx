import { useState } from 'react';
import { parseLens } from '../../../core/lens/lens-text.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { LensChoice } from '../../holdings/offers.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { levelRuleLink } from '../links.ts';
import { useLevels } from '../use-protection.ts';

/** Names a rule, its level and the lens it begins with; all of it can be changed on its sheet. */
export function NewLevelRule() {
  const { query } = useDeskLocation();
  const levels = useLevels();
  const asked = query.get('lens') ?? '';
  const [name, setName] = useState('');
  const [level, setLevel] = useState('');
  const [line, setLine] = useState(asked || 'everything');
  const { busy, refused, error, send } = useSending();
  const chosen = level || (levels.data?.[0]?.id ?? '');
  const add = async () => {
    const { id } = await request<{ id: string }>('POST', '/api/protection/rules', {
      name,
      level: chosen,
      lens: parseLens(line),
      keeps: 'step',
      because: '',
    });
    go(levelRuleLink(id));
  };
  return (
    <DialogForm
      title="New level rule"
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
          placeholder="Health notes in manifests"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <SelectField
        label="Sets"
        value={chosen}
        options={(levels.data ?? []).map((l) => ({ value: l.id, words: l.name }))}
        onChange={setLevel}
      />
      <LensChoice label="Where this holds" asked={asked} line={line} onChange={setLine} />
    </DialogForm>
  );
}
