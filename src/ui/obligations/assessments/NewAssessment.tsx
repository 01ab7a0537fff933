import { useState } from 'react';
import { go, setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { useAccount } from '../../desk/account-context.ts';
import { countWords } from '../../desk/words.ts';
import { ChoiceField } from '../../parts/ChoiceField.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { assessmentLink } from '../links.ts';
import { pointsWords, readyWords } from '../obligation-words.ts';
import { useAssessments, useFrameworks, useStartPreview } from '../use-obligations.ts';
import css from '../obligations.module.css';

const NEW = 'new';

/** Holds what is done against a framework, in a cycle that runs or a new one; what that comes to is told before. */
export function NewAssessment({ framework: begun }: { readonly framework: string }) {
  const me = useAccount();
  const frameworks = useFrameworks();
  const assessments = useAssessments();
  const cycles = [...new Map((assessments.data ?? []).map((a) => [a.cycleId, a.cycle]))];
  const [framework, setFramework] = useState(begun);
  const [chosen, setCycle] = useState<string>();
  const [name, setName] = useState('');
  const [due, setDue] = useState('');
  const cycle = chosen ?? String(cycles[0]?.[0] ?? NEW);
  const preview = useStartPreview(framework, cycle === NEW ? undefined : Number(cycle));
  const { busy, refused, error, send } = useSending();
  const start = async () => {
    const { id } = await request<{ id: number }>('POST', '/api/obligations/assessments', {
      ...{
        framework,
        cycle: cycle === NEW ? name : Number(cycle),
        lead: me.id,
        due: due === '' ? null : due,
      },
    });
    go(assessmentLink(id));
  };
  const at = ['framework', 'cycle', 'due'].some((f) => error(f));
  return (
    <DialogForm
      title="Start an assessment"
      onClose={() => setQuery({ new: null, framework: null })}
      onSubmit={() => send(start)}
      act="Start it"
      busy={busy}
      disabled={framework === ''}
      refused={at ? undefined : refused?.message}
    >
      <ChoiceField
        label="Framework"
        value={framework}
        options={(frameworks.data ?? []).map((f) => ({ value: f.id, words: f.name, detail: f.title }))}
        onChange={setFramework}
      />
      {error('framework') && <p role="alert">◆ {error('framework')}</p>}
      <ChoiceField
        label="Cycle"
        value={cycle}
        options={[
          ...cycles.map(([id, words]) => ({ value: String(id), words })),
          { value: NEW, words: 'a new one' },
        ]}
        onChange={setCycle}
      />
      {cycle === NEW && (
        <Field label="What the cycle is called" error={error('cycle')}>
          <input
            value={name}
            maxLength={120}
            placeholder="group, 2026"
            onChange={(e) => setName(e.target.value)}
          />
        </Field>
      )}
      <Field label="Due" error={error('due')}>
        <input type="date" value={due} onChange={(e) => setDue(e.target.value)} />
      </Field>
      {framework !== '' && preview.data && (
        <p className={css['note']}>
          It would begin at <b>{readyWords(preview.data.tally)}</b> of 100:{' '}
          {pointsWords(preview.data.tally.applicable)} points more to reach in all, of which{' '}
          {pointsWords(preview.data.tally.given)} are given already.{' '}
          {preview.data.comesAlong.length > 0 &&
            `${countWords(preview.data.comesAlong.length, 'measure comes', 'measures come')} along from ${[...new Set(preview.data.comesAlong.map((c) => c.cycle))].join(', ')}. `}
          {preview.data.newMeasures} of its {countWords(preview.data.measures, 'measure')} are in no other
          assessment.
        </p>
      )}
    </DialogForm>
  );
}
