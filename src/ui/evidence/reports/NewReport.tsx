import { useState } from 'react';
import { FORMATS, FORMAT_NAMES, type Format } from '../../../core/evidence/reports/report.ts';
import { useAccount } from '../../desk/account-context.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { ChoiceField } from '../../parts/ChoiceField.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { useSubjects } from './use-reports.ts';

const RHYTHMS = {
  '': 'now, and when somebody asks',
  week: 'every Monday',
  month: 'every month',
  quarter: 'every quarter',
};

/** A report in one act: what, as what, and how often. */
export function NewReport() {
  const { query } = useDeskLocation();
  const account = useAccount();
  const subjects = useSubjects().data?.subjects ?? [];
  const [name, setName] = useState('');
  const [what, setWhat] = useState(query.get('of') ?? '');
  const [format, setFormat] = useState<Format>('pdf');
  const [rhythm, setRhythm] = useState(query.get('every') ?? '');
  const { busy, refused, error, send } = useSending();
  const subject = subjects.find((s) => s.id === what);
  const add = async () => {
    const zone = Intl.DateTimeFormat().resolvedOptions().timeZone;
    const { id } = await request<{ id: number }>('POST', '/api/evidence/reports', {
      ...{
        name: name || subject?.name || '',
        what,
        format,
        people: [account.id],
        lens: query.get('lens') ?? '',
      },
      schedule: rhythm === '' ? null : { every: rhythm, weekday: 1, day: 1, at: '07:00', zone },
    });
    if (rhythm === '') await request('POST', `/api/evidence/reports/${id}/make`);
    go(`/evidence/reports/${id}`);
  };
  const [wrongName, wrongWhat] = [error('name'), error('what')];
  return (
    <DialogForm
      title="New report"
      onClose={() => setQuery({ new: null, of: null, every: null, lens: null })}
      onSubmit={() => send(add)}
      act={rhythm === '' ? 'Make it' : 'Begin it'}
      busy={busy}
      refused={wrongName ? undefined : refused?.message}
    >
      <ChoiceField
        label="What it tells of"
        value={what}
        options={subjects.map((s) => ({ value: s.id, words: s.name, detail: s.group }))}
        onChange={setWhat}
      />
      {wrongWhat && <p role="alert">◆ {wrongWhat}</p>}
      <Field label="What it is called" error={wrongName}>
        <input
          value={name}
          maxLength={120}
          placeholder={subject?.name ?? ''}
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <ChoiceField
        label="As"
        value={format}
        options={FORMAT_NAMES.map((f) => ({ value: f, words: FORMATS[f] }))}
        onChange={(f) => setFormat(f as Format)}
      />
      <ChoiceField
        label="When"
        value={rhythm}
        options={Object.entries(RHYTHMS).map(([value, words]) => ({ value, words }))}
        onChange={setRhythm}
      />
    </DialogForm>
  );
}
