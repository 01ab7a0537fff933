import { useState } from 'react';
import { readEventName } from '../../../core/accounts/programs/event.ts';
import { setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { ShownOnce } from '../../parts/ShownOnce.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { useHooks } from './use-programs.ts';

/** Tells another program of what happens from now on. */
export function NewHook() {
  const kinds = useHooks(true).data?.kinds ?? [];
  const [name, setName] = useState('');
  const [url, setUrl] = useState('');
  const [events, setEvents] = useState<readonly string[]>([]);
  const [secret, setSecret] = useState('');
  const { busy, refused, error, send } = useSending();
  const close = () => setQuery({ new: null });
  const add = async () =>
    setSecret(
      (await request<{ secret: string }>('POST', '/api/accounts/hooks', { name, url, events })).secret,
    );
  return (
    <DialogForm
      title="Tell a webhook"
      onClose={close}
      onSubmit={() => (secret ? close() : send(add))}
      act={secret ? 'It is kept' : 'Tell it'}
      busy={busy}
      refused={error('name') || error('url') || error('events') ? undefined : refused?.message}
    >
      {secret ? (
        <ShownOnce label="Secret that signs the calls" text={secret} />
      ) : (
        <>
          <Field label="What it is called" error={error('name')}>
            <input
              autoFocus
              value={name}
              maxLength={120}
              placeholder="Tickets of the house"
              onChange={(e) => setName(e.target.value)}
            />
          </Field>
          <Field label="Where it is" error={error('url')}>
            <input
              type="url"
              value={url}
              maxLength={2000}
              placeholder="https://house.example/hooks"
              onChange={(e) => setUrl(e.target.value)}
            />
          </Field>
          <div>
            It is told of what happens to{' '}
            <Slot
              label="What it is told of"
              words={eventWords(events, kinds)}
              error={error('events')}
              edit={{
                kind: 'many',
                options: kinds.map((k) => ({ value: k.kind, words: k.words })),
                value: events,
                set: setEvents,
                add: { hint: 'A kind, or an action such as incident.open', read: readEventName },
              }}
            />
            , without personal data.
          </div>
        </>
      )}
    </DialogForm>
  );
}

export function eventWords(
  events: readonly string[],
  kinds: readonly { readonly kind: string; readonly words: string }[],
): string {
  if (events.length === 0) return 'everything';
  const words = events.map((e) => kinds.find((k) => k.kind === e)?.words ?? e);
  return words.length <= 3
    ? words.join(', ')
    : `${words.slice(0, 2).join(', ')} and ${words.length - 2} more`;
}
