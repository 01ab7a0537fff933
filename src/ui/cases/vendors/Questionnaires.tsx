import { useQuery, useQueryClient } from '@tanstack/react-query';
import { useState } from 'react';
import {
  questionLines,
  readQuestionLines,
  type QuestionnaireContent,
} from '../../../core/cases/vendors/questionnaire.ts';
import type * as questionnairesApi from '../../../pages/api/cases/questionnaires/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import css from '../cases.module.css';

const PATH = '/api/cases/questionnaires';

/** What vendors are asked: as shipped, and the organisation’s own. */
export function Questionnaires() {
  const [asked, setAsked] = useState<'new' | number>();
  const mayWrite = useMay('cases.dossiers');
  const { data } = useQuery({
    queryKey: ['questionnaire'],
    queryFn: () => request<AnswerOf<typeof questionnairesApi.GET>>('GET', PATH),
  });
  return (
    <>
      <h2 className={css['heading']}>What vendors are asked</h2>
      <ul className={css['bearers']} aria-label="Questionnaires">
        {(data ?? []).map((q) => (
          <li key={q.id}>
            <span>
              {q.name} <span className={css['place']}>{countWords(q.questions, 'question')}</span>
            </span>
            {q.id > 0 && mayWrite && <Button onClick={() => setAsked(q.id)}>Write it</Button>}
          </li>
        ))}
      </ul>
      {mayWrite && (
        <div className={css['acts']}>
          <Button onClick={() => setAsked('new')}>A questionnaire of our own</Button>
        </div>
      )}
      {asked === 'new' && <NewQuestionnaire onClose={() => setAsked(undefined)} onBegun={setAsked} />}
      {typeof asked === 'number' && <WriteQuestionnaire id={asked} onClose={() => setAsked(undefined)} />}
    </>
  );
}

function NewQuestionnaire({
  onClose,
  onBegun,
}: {
  readonly onClose: () => void;
  readonly onBegun: (id: number) => void;
}) {
  const client = useQueryClient();
  const [name, setName] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title="A questionnaire of our own"
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          const { id } = await request<{ id: number }>('POST', PATH, { name });
          await client.invalidateQueries({ queryKey: ['questionnaire'] });
          onBegun(id);
        })
      }
      act="Begin it"
      busy={busy}
      refused={error('name') ? undefined : refused?.message}
    >
      <Field
        label="What it is called"
        error={error('name')}
        hint="It begins with the questions that are shipped"
      >
        <input autoFocus value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />
      </Field>
    </DialogForm>
  );
}

function WriteQuestionnaire({ id, onClose }: { readonly id: number; readonly onClose: () => void }) {
  const { query, save } = usePlainObject<QuestionnaireContent>('questionnaire', id);
  const [text, setText] = useState<string>();
  if (!query.data) return null;
  const { content } = query.data;
  const shown = text ?? questionLines(content.questions);
  const read = readQuestionLines(shown, content.questions);
  return (
    <DialogForm
      title={content.name}
      onClose={onClose}
      onSubmit={() => {
        if (!('questions' in read)) return;
        void save({ ...content, questions: [...read.questions] }, 'Saved.');
        onClose();
      }}
      act={'questions' in read ? `Keep ${countWords(read.questions.length, 'question')}` : 'Keep them'}
      busy={false}
      refused={undefined}
    >
      <Field
        label="Questions, one a line"
        error={'wrong' in read ? `Line ${read.line}: ${read.wrong}.` : undefined}
        hint="section | question | weight 1 to 3 | must or may | asked from tier 1, 2 or 3 on"
      >
        <textarea autoFocus rows={16} value={shown} onChange={(e) => setText(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
