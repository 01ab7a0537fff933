import { useState } from 'react';
import { USUAL_SURVEY } from '../../../core/holdings/surveys/survey.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { ManyEditor } from '../../parts/ChoiceEditor.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { surveyLink } from '../links.ts';
import { useSurveyNames, useSurveys } from './use-surveys.ts';

/** Names a survey and what it reads; the rest is said on its sheet, where it is estimated. */
export function NewSurvey() {
  const { query } = useDeskLocation();
  const close = () => setQuery({ new: null, source: null });
  const names = useSurveyNames();
  const surveys = useSurveys();
  const first = query.get('source');
  const [name, setName] = useState('');
  const [sources, setSources] = useState<readonly string[]>(first ? first.split(',') : []);
  const { busy, refused, error, send } = useSending();
  const taken = surveys.rows.some((s) => s.name.toLowerCase() === name.trim().toLowerCase());
  const add = async () => {
    const { id } = await request<{ id: number }>('POST', '/api/holdings/surveys', {
      ...USUAL_SURVEY,
      name,
      sources,
    });
    await request('POST', `/api/holdings/surveys/${id}/estimate`, {});
    go(surveyLink(id));
  };
  return (
    <DialogForm
      title="New survey"
      onClose={close}
      onSubmit={() => send(add)}
      act="Estimate what it takes"
      busy={busy}
      disabled={taken}
      refused={error('name', 'sources') ? undefined : refused?.message}
    >
      <Field label="What it is called" error={taken ? 'Another survey is called so.' : error('name')}>
        <input
          autoFocus
          value={name}
          maxLength={120}
          placeholder="Port share, whole"
          onChange={(e) => setName(e.target.value)}
        />
      </Field>
      <ManyEditor
        label="Sources that it reads"
        options={names.data?.sources ?? []}
        value={sources}
        onChange={setSources}
        onDone={() => {}}
      />
      {error('sources') && <p role="alert">◆ {error('sources')}</p>}
    </DialogForm>
  );
}
