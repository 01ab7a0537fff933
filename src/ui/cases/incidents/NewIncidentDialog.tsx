import { instantOf, localMoment } from '../../parts/local-moment.ts';
import { useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  INCIDENT_KINDS,
  KIND_OF_INCIDENT,
  type IncidentKind,
} from '../../../core/cases/incidents/incident.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { tell } from '../../desk/toasts.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { incidentLink } from '../links.ts';
import { takeIncident } from './use-incidents.ts';
import css from '../cases.module.css';

/** Takes an incident in, in plain words: what happened, when, and when it was known. */
export function NewIncidentDialog() {
  const client = useQueryClient();
  const { query } = useDeskLocation();
  const [kind, setKind] = useState<IncidentKind>(
    () => KIND_OF_INCIDENT.find((k) => k === query.get('kind')) ?? 'lost device',
  );
  const [title, setTitle] = useState(() => query.get('title')?.slice(0, 160) ?? '');
  const device = Number(query.get('device')) || 0;
  const [words, setWords] = useState('');
  const [reporter, setReporter] = useState('');
  const [happened, setHappened] = useState('');
  const [known, setKnown] = useState(() => localMoment(new Date()));
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title="Something went wrong"
      onClose={() => setQuery({ new: null, kind: null, title: null, device: null })}
      onSubmit={() =>
        send(async () => {
          const { id } = await takeIncident({
            ...{
              kind,
              title,
              words,
              reporter,
              happenedAt: instantOf(happened),
              knownAt: instantOf(known) ?? '',
            },
            ...{ regions: [], touched: device > 0 ? [{ what: 'device', id: device }] : [] },
          });
          await client.invalidateQueries({ queryKey: ['incidents'] });
          tell('It stands in the register; the time runs.');
          go(incidentLink(id));
        })
      }
      act="Take it in"
      busy={busy}
      refused={
        error('incident.title', 'incident.knownAt', 'knownAt', 'happenedAt') ? undefined : refused?.message
      }
    >
      <Field label="In a few words" error={error('incident.title')}>
        <input
          autoFocus
          value={title}
          maxLength={160}
          placeholder="Laptop left on MS Corrie"
          onChange={(e) => setTitle(e.target.value)}
        />
      </Field>
      <div className={css['two']}>
        <Field label="What happened">
          <select value={kind} onChange={(e) => setKind(e.target.value as IncidentKind)}>
            {KIND_OF_INCIDENT.map((k) => (
              <option key={k} value={k}>
                {INCIDENT_KINDS[k]}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Who told of it">
          <input value={reporter} maxLength={200} onChange={(e) => setReporter(e.target.value)} />
        </Field>
        <Field
          label="It happened"
          error={error('happenedAt', 'incident.happenedAt')}
          hint="Leave it out where nobody knows"
        >
          <input type="datetime-local" value={happened} onChange={(e) => setHappened(e.target.value)} />
        </Field>
        <Field
          label="We knew of it"
          error={error('knownAt', 'incident.knownAt')}
          hint="From then on times run"
        >
          <input type="datetime-local" value={known} onChange={(e) => setKnown(e.target.value)} />
        </Field>
      </div>
      <Field label="In your own words">
        <textarea rows={4} maxLength={4000} value={words} onChange={(e) => setWords(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
