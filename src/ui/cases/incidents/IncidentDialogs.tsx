import { instantOf, localMoment } from '../../parts/local-moment.ts';
import { Button } from '../../parts/Button.tsx';
import { mostPeople } from '../../../core/cases/incidents/reckoned.ts';
import { useState } from 'react';
import type { IncidentAct, IncidentWords } from '../../../core/cases/incidents/incident-act.ts';
import type { Touched } from '../../../core/cases/incidents/incident.ts';
import { TELL, type Tell } from '../../../core/cases/incidents/incident-progress.ts';
import {
  CIRCUMSTANCES,
  DATA_KINDS,
  EASE,
  severityOf,
  type SeverityInput,
} from '../../../core/cases/incidents/severity.ts';
import { daysAgo } from '../../desk/words.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import type { ViewedIncident } from './use-incidents.ts';
import css from '../cases.module.css';

interface Props {
  readonly incident: ViewedIncident;
  readonly send: (does: IncidentAct) => Promise<unknown>;
  readonly onClose: () => void;
}

/** A form that sends one act, and closes once it is done. */
function useActForm({ send: put, onClose }: Pick<Props, 'send' | 'onClose'>) {
  const { busy, refused, error, send } = useSending();
  return {
    ...{ busy, error, refused: refused?.message },
    submit: (does: IncidentAct) =>
      send(async () => {
        await put(does);
        onClose();
      }),
  };
}

/** `the device LT-1371`, `Port share/2026` */
export function touchedWords(t: Touched, { devices, sources }: ViewedIncident): string {
  if (t.what === 'device') return `the device ${devices.find((d) => d.id === t.id)?.name ?? t.id}`;
  if (t.what === 'item') return `item ${t.id}`;
  return `${sources.find((s) => s.id === String(t.source))?.name ?? 'a source'}${t.path ? `/${t.path}` : ''}`;
}

/** What it touched, where the people live, and which other laws it falls under. */
export function TouchDialog({ incident: i, send, onClose }: Props) {
  const [touched, setTouched] = useState(i.incident.touched);
  const [source, setSource] = useState('');
  const [path, setPath] = useState('');
  const [item, setItem] = useState('');
  const [regions, setRegions] = useState(i.incident.regions.join(' '));
  const [nis2, setNis2] = useState(i.nis2);
  const [hipaa, setHipaa] = useState(i.hipaa);
  const form = useActForm({ send, onClose });
  const add = (t: Touched) => {
    setTouched([...touched.filter((x) => JSON.stringify(x) !== JSON.stringify(t)), t]);
    setSource('');
    setPath('');
    setItem('');
  };
  return (
    <DialogForm
      title="What it touched"
      onClose={onClose}
      onSubmit={() =>
        form.submit({
          act: 'touch',
          touched,
          regions: regions
            .toUpperCase()
            .split(/[\s,]+/)
            .filter(Boolean),
          nis2,
          hipaa,
        })
      }
      act="Keep it"
      busy={form.busy}
      refused={form.refused}
    >
      <ul className={css['bearers']} aria-label="What it touched">
        {touched.map((t) => (
          <li key={JSON.stringify(t)}>
            <span>{touchedWords(t, i)}</span>
            <Button onClick={() => setTouched(touched.filter((x) => x !== t))}>Take out</Button>
          </li>
        ))}
        {touched.length === 0 && <li>Nothing yet: choose a device, a place or an item.</li>}
      </ul>
      <Field label="A device">
        <select autoFocus value="" onChange={(e) => add({ what: 'device', id: Number(e.target.value) })}>
          <option value="">…</option>
          {i.devices.map((d) => (
            <option key={d.id} value={d.id}>
              {d.name}, {d.person}
            </option>
          ))}
        </select>
      </Field>
      <div className={css['two']}>
        <Field label="A source">
          <select value={source} onChange={(e) => setSource(e.target.value)}>
            <option value="">…</option>
            {i.sources.map((s) => (
              <option key={s.id} value={s.id}>
                {s.name}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Within it" hint="A folder, such as All staff; nothing for all of it">
          <input value={path} maxLength={2000} onChange={(e) => setPath(e.target.value)} />
        </Field>
        <Button
          disabled={source === ''}
          onClick={() => add({ what: 'place', source: Number(source), path: path.trim() })}
        >
          Add the place
        </Button>
      </div>
      <div className={css['two']}>
        <Field label="One item" hint="By its number in Holdings">
          <input value={item} inputMode="numeric" maxLength={12} onChange={(e) => setItem(e.target.value)} />
        </Field>
        <Button
          disabled={!/^[1-9]\d*$/.test(item.trim())}
          onClick={() => add({ what: 'item', id: Number(item) })}
        >
          Add the item
        </Button>
      </div>
      <div className={css['two']}>
        <Field label="The people live in" hint="Such as DK SE US-CA">
          <input value={regions} maxLength={200} onChange={(e) => setRegions(e.target.value)} />
        </Field>
      </div>
      <label>
        <input type="checkbox" checked={nis2} onChange={(e) => setNis2(e.target.checked)} /> We fall under
        NIS2, and it is significant (Art. 23(3))
      </label>
      <label>
        <input type="checkbox" checked={hipaa} onChange={(e) => setHipaa(e.target.checked)} /> Health data
        under HIPAA
      </label>
    </DialogForm>
  );
}

const optionsOf = (values: Readonly<Record<string, number>>) =>
  Object.entries(values).map(([v, n]) => (
    <option key={v} value={v}>
      {v} ({n})
    </option>
  ));

/** How grave it is, with the sum as it changes. */
export function WeighDialog({ incident: i, send, onClose }: Props) {
  const [s, setS] = useState<SeverityInput>(i.severityInput);
  const form = useActForm({ send, onClose });
  const set = (more: Partial<SeverityInput>) => setS({ ...s, ...more });
  const sum = severityOf(s, mostPeople(i.reckoned));
  const choice = <K extends keyof SeverityInput>(
    key: K,
    label: string,
    values: Readonly<Record<string, number>>,
  ) => (
    <Field label={label}>
      <select value={String(s[key])} onChange={(e) => set({ [key]: e.target.value })}>
        {optionsOf(values)}
      </select>
    </Field>
  );
  return (
    <DialogForm
      title="How grave it is"
      onClose={onClose}
      onSubmit={() => form.submit({ act: 'weigh', severity: s })}
      act={`Keep it: ${sum.level}, ${sum.score.toFixed(2)}`}
      busy={form.busy}
      refused={form.refused}
    >
      <div className={css['two']}>
        {choice('data', 'Kind of data', DATA_KINDS)}
        <Field label="More or less than its kind" hint="From −3 to 3">
          <input
            type="number"
            min={-3}
            max={3}
            value={s.adjust}
            onChange={(e) => set({ adjust: Math.max(-3, Math.min(3, Number(e.target.value) || 0)) })}
          />
        </Field>
        {choice('ease', 'How easily people are told by it', EASE)}
        {choice('confidentiality', 'Confidentiality: lost to', CIRCUMSTANCES.confidentiality)}
        {choice('integrity', 'Integrity: changed', CIRCUMSTANCES.integrity)}
        {choice('availability', 'Availability: gone', CIRCUMSTANCES.availability)}
      </div>
      <Field label="Why more or less" error={form.error('does.severity.why')}>
        <input value={s.why} maxLength={500} onChange={(e) => set({ why: e.target.value })} />
      </Field>
      <label>
        <input type="checkbox" checked={s.malicious} onChange={(e) => set({ malicious: e.target.checked })} />{' '}
        With intent (0.5)
      </label>
      <label>
        <input
          type="checkbox"
          checked={s.unreadable}
          onChange={(e) => set({ unreadable: e.target.checked })}
        />{' '}
        Encrypted, with a key that nobody else has
      </label>
    </DialogForm>
  );
}

/** Whether the authority and the people are told, and why. */
export function DecideDialog({ incident: i, send, onClose }: Props) {
  const [authority, setAuthority] = useState<Tell>(i.proposal?.authority ?? 'tell');
  const [people, setPeople] = useState<Tell>(i.proposal?.people ?? 'tell');
  const [reason, setReason] = useState(i.proposal?.why ?? '');
  const form = useActForm({ send, onClose });
  const choice = (label: string, value: Tell, set: (t: Tell) => void) => (
    <Field label={label}>
      <select value={value} onChange={(e) => set(e.target.value as Tell)}>
        {TELL.map((t) => (
          <option key={t}>{t}</option>
        ))}
      </select>
    </Field>
  );
  return (
    <DialogForm
      title="Who is told"
      onClose={onClose}
      onSubmit={() => form.submit({ act: 'decide', authority, people, reason })}
      act="Decide it; a second person agrees"
      busy={form.busy}
      refused={form.error('does.reason') ? undefined : form.refused}
    >
      <div className={css['two']}>
        {choice('The authority', authority, setAuthority)}
        {choice('The people', people, setPeople)}
      </div>
      <Field label="Why" error={form.error('does.reason')}>
        <textarea rows={4} maxLength={1000} value={reason} onChange={(e) => setReason(e.target.value)} />
      </Field>
    </DialogForm>
  );
}

/** What both letters are made from. */
export function WordsOfLetters({ incident: i, send, onClose }: Props) {
  const [words, setWords] = useState<IncidentWords>(i.words);
  const form = useActForm({ send, onClose });
  const text = (key: keyof IncidentWords, label: string, hint: string, rows = 3) => (
    <Field label={label} hint={hint} error={form.error(`does.words.${key}`)}>
      <textarea
        rows={rows}
        value={words[key]}
        onChange={(e) => setWords({ ...words, [key]: e.target.value })}
      />
    </Field>
  );
  return (
    <DialogForm
      title="Word the letters"
      onClose={onClose}
      onSubmit={() => form.submit({ act: 'words', words })}
      act="Keep it"
      busy={form.busy}
      refused={form.refused}
    >
      {text('happened', 'What happened', 'For somebody who was not there; no names', 4)}
      {text('consequences', 'What that may mean for people', 'Such as: somebody may pose as you')}
      {text('contact', 'Whom they ask', 'An address or telephone number', 1)}
      {text('late', 'Why it comes later than the law names', 'Leave it out where it does not', 2)}
    </DialogForm>
  );
}

export function MeasureDialog({ incident: i, send, onClose }: Props) {
  const [what, setWhat] = useState('');
  const [owner, setOwner] = useState('');
  const [due, setDue] = useState(() => daysAgo(-14));
  const form = useActForm({ send, onClose });
  return (
    <DialogForm
      title="A measure"
      onClose={onClose}
      onSubmit={() => form.submit({ act: 'measure', what, owner: owner === '' ? null : Number(owner), due })}
      act="Add it"
      busy={form.busy}
      refused={form.error('does.what') ? undefined : form.refused}
    >
      <Field label="What is done" error={form.error('does.what')}>
        <input
          autoFocus
          value={what}
          maxLength={300}
          placeholder="Laptops of the bridge are encrypted"
          onChange={(e) => setWhat(e.target.value)}
        />
      </Field>
      <div className={css['two']}>
        <Field label="By whom">
          <select value={owner} onChange={(e) => setOwner(e.target.value)}>
            <option value="">nobody yet</option>
            {i.handlers.map((h) => (
              <option key={h.id} value={h.id}>
                {h.name}
              </option>
            ))}
          </select>
        </Field>
        <Field label="Due">
          <input type="date" value={due} onChange={(e) => setDue(e.target.value)} />
        </Field>
      </div>
    </DialogForm>
  );
}

/** When whom a law names was told. */
export function ToldDialog({
  deadline,
  send,
  onClose,
}: {
  readonly deadline: string;
  readonly send: Props['send'];
  readonly onClose: () => void;
}) {
  const [at, setAt] = useState(() => localMoment(new Date()));
  const form = useActForm({ send, onClose });
  return (
    <DialogForm
      title="They were told"
      onClose={onClose}
      onSubmit={() => {
        const told = instantOf(at);
        // The control knows minutes: this one is now.
        if (told)
          void form.submit({
            act: 'told',
            deadline,
            at: told > new Date().toISOString() ? new Date().toISOString() : told,
          });
      }}
      act="Keep it"
      disabled={instantOf(at) === null}
      busy={form.busy}
      refused={form.error('at') ? undefined : form.refused}
    >
      <Field label="When" error={form.error('at', 'does.at')}>
        <input autoFocus type="datetime-local" value={at} onChange={(e) => setAt(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
