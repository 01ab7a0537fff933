import { useState } from 'react';
import type * as reviewsApi from '../../../pages/api/access/reviews/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { reviewLink } from '../links.ts';
import { usePerson, usePlace } from '../use-access.ts';

/** Days that owners have to answer, where nobody says otherwise. */
const USUAL_DAYS = 28;

const KIND_NAMES: Readonly<Record<string, string>> = {
  person: 'what people were given by name',
  group: 'what groups were given',
  guest: 'what guests were given',
  leaver: 'what people were given who left',
  closed: 'what closed accounts were given',
};

/** Begins a review of a place with all below it, of what somebody was given by name, or of the ways to what a lens shows. */
export function NewReview({ query }: { readonly query: URLSearchParams }) {
  const [placeKey, personKey] = [query.get('place') ?? '', query.get('person') ?? ''];
  const [kind, lens] = [query.get('kind'), query.get('lens')];
  const place = usePlace(personKey === '' ? placeKey : '');
  const person = usePerson(personKey);
  const of =
    lens ??
    (kind === null ? undefined : KIND_NAMES[kind]) ??
    (personKey === '' ? place.data?.name : person.data?.name);
  const [name, setName] = useState('');
  const [due, setDue] = useState(() =>
    new Date(Date.now() + USUAL_DAYS * 86_400_000).toISOString().slice(0, 10),
  );
  const { busy, refused, error, send } = useSending();
  const start = async () => {
    const scope =
      lens !== null
        ? { lens }
        : kind !== null
          ? { kind }
          : personKey === ''
            ? { places: [placeKey] }
            : { people: [personKey] };
    const { id } = await request<AnswerOf<typeof reviewsApi.POST>>('POST', '/api/access/reviews', {
      ...{ name: name || (of ?? ''), scope, due },
    });
    tell('It has begun: owners are written to.');
    go(reviewLink(id));
  };
  return (
    <DialogForm
      title={
        lens !== null
          ? 'Review who reaches what a lens shows'
          : `Review ${of ?? 'this'}${personKey === '' && kind === null ? ', with all below it' : ''}`
      }
      onClose={() => setQuery({ new: null, lens: null })}
      onSubmit={() => send(start)}
      act="Begin it"
      busy={busy}
      refused={
        refused && !error('name') && !error('due')
          ? [refused.message, ...refused.refusal.fields.map((f) => f.message)].join(' ')
          : undefined
      }
    >
      {lens !== null && (
        <p>
          Owners are asked about every grant and link by which somebody comes to <b>{lens}</b>, where it is
          given.
        </p>
      )}
      <Field label="What it is called" error={error('name')}>
        <input value={name} maxLength={200} placeholder={of} onChange={(e) => setName(e.target.value)} />
      </Field>
      <Field label="The last day to answer" error={error('due')}>
        <input type="date" value={due} onChange={(e) => setDue(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
