import { useState } from 'react';
import { parseLens } from '../../../core/lens/lens-text.ts';
import { CHANNEL_WORDS, CHANNELS, type Channel } from '../../../core/protection/handling/channel.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { LensChoice } from '../../holdings/offers.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { handlingLink } from '../links.ts';

/** Names a rule, a way on which data is put in motion, and the lens it begins with. */
export function NewHandlingRule() {
  const { query } = useDeskLocation();
  const asked = query.get('lens') ?? '';
  const [name, setName] = useState('');
  const [channel, setChannel] = useState<Channel>('web form');
  const [line, setLine] = useState(asked || 'everything');
  const { busy, refused, error, send } = useSending();
  const add = async () => {
    const body = { name, channel, lens: parseLens(line) };
    go(handlingLink((await request<{ id: string }>('POST', '/api/protection/handling', body)).id));
  };
  return (
    <DialogForm
      title="New handling rule"
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
          placeholder="Cards into web forms"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <SelectField
        label="When somebody"
        value={channel}
        options={CHANNELS.map((value) => ({ value, words: CHANNEL_WORDS[value] }))}
        onChange={(c) => setChannel(c as Channel)}
      />
      <LensChoice label="What has" asked={asked} line={line} onChange={setLine} />
    </DialogForm>
  );
}
