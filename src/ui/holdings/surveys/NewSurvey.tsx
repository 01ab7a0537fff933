import { useState } from 'react';
import { USUAL_SURVEY } from '../../../core/holdings/surveys/survey.ts';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { RequestError } from '../../desk/request-error.ts';
import { request } from '../../desk/request.ts';
import { tellFailure } from '../../desk/toasts.ts';
import { Button } from '../../parts/Button.tsx';
import { ManyEditor } from '../../parts/ChoiceEditor.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { Field } from '../../parts/Field.tsx';
import { surveyLink } from '../links.ts';
import { useSurveyNames, useSurveys } from './use-surveys.ts';
import css from '../estate.module.css';

/** Names a survey and what it reads; the rest is said on its sheet, where it is estimated. */
export function NewSurvey() {
  const { query } = useDeskLocation();
  const close = () => setQuery({ new: null, source: null });
  const names = useSurveyNames();
  const surveys = useSurveys();
  const first = query.get('source');
  const [name, setName] = useState('');
  const [sources, setSources] = useState<readonly string[]>(first ? first.split(',') : []);
  const [busy, setBusy] = useState(false);
  const [refused, setRefused] = useState<RequestError>();
  const taken = surveys.rows.some((s) => s.name.toLowerCase() === name.trim().toLowerCase());
  const error = (field: string) => refused?.refusal.fields.find((f) => f.field === field)?.message;
  const send = async (e: React.FormEvent) => {
    e.preventDefault();
    setBusy(true);
    try {
      const { id } = await request<{ id: number }>('POST', '/api/holdings/surveys', {
        ...USUAL_SURVEY,
        name,
        sources,
      });
      await request('POST', `/api/holdings/surveys/${id}/estimate`, {});
      go(surveyLink(id));
    } catch (failure) {
      if (failure instanceof RequestError) setRefused(failure);
      else tellFailure(failure);
    } finally {
      setBusy(false);
    }
  };
  return (
    <Dialog title="New survey" onClose={close}>
      <form className={css['form']} noValidate onSubmit={(e) => void send(e)}>
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
        <div className={css['formActs']}>
          <Button type="submit" kind="primary" busy={busy} disabled={taken}>
            Estimate what it takes
          </Button>
          <Button onClick={close}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}
