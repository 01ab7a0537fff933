import { useQuery } from '@tanstack/react-query';
import { useState } from 'react';
import { PASS_HOURS } from '../../../core/protection/handling/question.ts';
import type * as questionsApi from '../../../pages/api/protection/questions/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { AskedQuestion } from '../../../server/protection/questions/questions.ts';
import { request } from '../../desk/request.ts';
import { useDeskLocation } from '../../desk/location.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { SelectField } from '../../parts/SelectField.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { useHandlingNames } from '../handling/use-handling.ts';
import { ACTIVITY, eventLink, handlingLink } from '../links.ts';
import css from '../protection.module.css';

const PATH = '/api/protection/questions';

/** What people asked from where they were stopped: let by for a while, or not, and why. */
export function AskedSheet() {
  const asked = useQuery({
    queryKey: ['questions'],
    queryFn: () => request<AnswerOf<typeof questionsApi.GET>>('GET', PATH),
  });
  const chosen = Number(useDeskLocation().query.get('question'));
  const [answering, setAnswering] = useState<{ readonly question: AskedQuestion; readonly yes: boolean }>();
  if (asked.isError && !asked.data)
    return <Failure error={asked.error} onRetry={() => void asked.refetch()} />;
  if (!asked.data) return <Loading what="what people asked" />;
  const open = asked.data.filter((q) => q.allowed === null);
  const answered = asked.data.filter((q) => q.allowed !== null);
  return (
    <>
      <SheetHead
        title="Asked by people"
        detail={
          open.length === 0
            ? '✓ nobody waits for an answer'
            : `${countWords(open.length, 'person waits', 'people wait')} for your answer; it reaches their device with its next rules`
        }
      />
      {open.map((q) => (
        <Asked key={q.id} question={q} chosen={q.id === chosen}>
          <span className={css['says']}>
            <Button kind="primary" onClick={() => setAnswering({ question: q, yes: true })}>
              Let them
            </Button>
            <Button onClick={() => setAnswering({ question: q, yes: false })}>No</Button>
          </span>
        </Asked>
      ))}
      {asked.data.length === 0 && (
        <p className={css['note']}>
          Whoever a rule asks or stops can ask you instead. What they ask stands here, with what they did.
        </p>
      )}
      {answered.length > 0 && <h2 className={css['heading']}>Answered</h2>}
      {answered.map((q) => (
        <Asked key={q.id} question={q} chosen={q.id === chosen}>
          <p>
            <b>{q.allowed ? `Let by until ${q.until ? whenWords(q.until) : ''}` : 'No'}</b>
            {q.answer && `: “${q.answer}”`}
            <span className={css['place']}>
              {' '}
              · {q.answeredBy}, {q.answeredAt && whenWords(q.answeredAt)}
            </span>
          </p>
        </Asked>
      ))}
      {answering && (
        <AnswerDialog
          {...answering}
          onClose={() => {
            setAnswering(undefined);
            void asked.refetch();
          }}
        />
      )}
    </>
  );
}

function Asked({
  question: q,
  chosen,
  children,
}: {
  readonly question: AskedQuestion;
  readonly chosen: boolean;
  readonly children: React.ReactNode;
}) {
  const names = useHandlingNames();
  const event = q.event?.event;
  return (
    <article className={css['question']} data-chosen={chosen || undefined}>
      <p>
        <b>“{q.words || 'They wrote nothing.'}”</b>
      </p>
      <p className={css['note']}>
        <a href={`${ACTIVITY}?person=${encodeURIComponent(q.person)}`}>{q.person}</a>,{' '}
        <a href={eventLink(q.at, q.eventId)}>{whenWords(q.at)}</a>
        {event && (
          <>
            : {event.act} · {event.channel} ·{' '}
            <span className={css['name']}>{event.item?.name || 'text'}</span>
            {event.findings.length > 0 &&
              ` with ${event.findings
                .slice(0, 3)
                .map((f) => `${f.matches} ${names?.items.value('data', f.detector) ?? f.detector}`)
                .join(', ')}`}
            {event.towards.length > 0 && ` towards ${event.towards.join(', ')}`}
          </>
        )}
        ; <a href={handlingLink(q.rule)}>{q.ruleName ?? `rule ${q.rule}`}</a>{' '}
        {event?.outcome === 'ask' ? 'asked' : 'stopped'} them.
      </p>
      {children}
    </article>
  );
}

function AnswerDialog({
  question: q,
  yes,
  onClose,
}: {
  readonly question: AskedQuestion;
  readonly yes: boolean;
  readonly onClose: () => void;
}) {
  const [words, setWords] = useState('');
  const [hours, setHours] = useState('8');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title={yes ? `Let ${q.person} by “${q.ruleName ?? q.rule}”` : `No to ${q.person}`}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await request('POST', `${PATH}/${q.id}`, {
            answer: yes ? { is: 'yes', hours: Number(hours), words } : { is: 'no', words },
          });
          tell('Their device hears of it with its next rules.');
          onClose();
        })
      }
      act={yes ? 'Let them' : 'Say no'}
      busy={busy}
      refused={error('answer.words', 'answer.hours') ? undefined : refused?.message}
    >
      {yes && (
        <SelectField
          label="How long"
          value={hours}
          options={Object.entries(PASS_HOURS).map(([value, w]) => ({ value, words: w }))}
          onChange={setHours}
        />
      )}
      <Field label={yes ? 'What they read' : 'Why not; they read it'} error={error('answer.words')}>
        <input autoFocus value={words} maxLength={400} onChange={(e) => setWords(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
