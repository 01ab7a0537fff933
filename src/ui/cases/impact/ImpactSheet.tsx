import { useState } from 'react';
import type { ImpactContent } from '../../../core/cases/impact/impact.ts';
import type { ImpactAct } from '../../../core/cases/impact/impact-act.ts';
import type { AskedQuestion, Threshold } from '../../../core/cases/impact/threshold.ts';
import { withCapital } from '../../../core/text/as-sentence.ts';
import { dayText } from '../../../core/text/day.ts';
import type { ViewedImpact } from '../../../server/cases/impact/view-impact.ts';
import { useMay } from '../../desk/account-context.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countryWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { WordsDialog, type WordsAsked } from '../../parts/WordsDialog.tsx';
import { PastVersions } from '../../rules/PastEdits.tsx';
import { AnswerLine, LinksSentence, slotsFor, StepList } from '../dossiers/DossierParts.tsx';
import { RiskList } from '../dossiers/RiskList.tsx';
import { useDossier } from '../dossiers/use-dossiers.ts';
import css from '../cases.module.css';

type Worded =
  'advise' | 'advise against' | 'approve' | 'send back' | 'look again' | 'end' | 'open again' | 'note';
type Asked = Worded | 'needed' | 'not needed' | 'consult' | 'answered';

const ASKS: Readonly<Record<Worded, WordsAsked>> = {
  advise: {
    title: 'Advice',
    label: 'Your advice',
    act: 'Advise to go on',
    hint: 'Go on; look at the cameras again in a year.',
  },
  'advise against': {
    title: 'Advice',
    label: 'Your advice',
    act: 'Advise not to',
    hint: 'A list at the gate does the same.',
  },
  approve: {
    title: 'Approve it',
    label: 'Why, and under which conditions',
    act: 'Approve it',
    hint: 'The lists go after a week.',
  },
  'send back': {
    title: 'Send it back',
    label: 'What has to be other',
    act: 'Send it back',
    hint: 'The risk to children is missing.',
  },
  'look again': {
    title: 'Look at it again',
    label: 'Why',
    act: 'Look again',
    hint: 'A new vendor keeps the pictures.',
  },
  end: { title: 'End it', label: 'Why', act: 'End it', hint: 'The plan was given up.' },
  'open again': { title: 'Open it again', label: 'Why', act: 'Open it again', hint: 'The plan came back.' },
  note: { title: 'Note', label: 'For the history', act: 'Note it', hint: 'Talked with the union today.' },
};

/** An impact assessment: whether it is needed, what is done and why, the risks that remain, and what was decided. */
export function ImpactSheet({ id }: { readonly id: string }) {
  const {
    object,
    view: v,
    save,
    act,
    failed,
  } = useDossier<ImpactContent, ViewedImpact, ImpactAct>('impact', id);
  const [mayWrite, mayAdvise, mayApprove] = [
    useMay('cases.dossiers'),
    useMay('cases.advise'),
    useMay('cases.approve'),
  ];
  const [asked, setAsked] = useState<Asked>();
  if (failed) return <Failure error={failed.error} onRetry={() => void failed.refetch()} />;
  if (!object || !v) return <Loading what="the assessment" />;
  const { content } = object;
  const { record, progress } = v;
  const ended = record.ended !== null;
  const fixed = !mayWrite || ended;
  const set = (change: Partial<ImpactContent>) => void save({ ...content, ...change }, 'Saved.');
  const slot = slotsFor(fixed);
  const close = () => setAsked(undefined);
  const [first] = progress.needs;
  const text = (label: string, key: 'about' | 'necessity' | 'views' | 'owner', none: string, most: number) =>
    slot(label, content[key] || none, {
      kind: 'text',
      long: most > 400,
      most,
      value: content[key],
      set: (value) => set({ [key]: value }),
    });
  const quick = (does: ImpactAct, said: string) =>
    void act(does)
      .then(() => tell(said))
      .catch(tellFailure);
  return (
    <>
      <SheetHead
        title={slot('Name', content.name, {
          kind: 'text',
          most: 160,
          value: content.name,
          set: (name) => set({ name }),
        })}
        detail={
          <>
            IA-{id} · {text('Owner', 'owner', 'Nobody yet', 120)} answers for it
          </>
        }
        actions={
          <>
            {!ended && first?.step === 'decide' && mayWrite && (
              <>
                <Button
                  kind={v.threshold.verdict === 'not needed' ? undefined : 'primary'}
                  onClick={() => setAsked('needed')}
                >
                  It is needed
                </Button>
                <Button
                  kind={v.threshold.verdict === 'not needed' ? 'primary' : undefined}
                  onClick={() => setAsked('not needed')}
                >
                  It is not
                </Button>
              </>
            )}
            {!ended && first?.step === 'advise' && mayAdvise && (
              <>
                <Button kind="primary" onClick={() => setAsked('advise')}>
                  Advise to go on
                </Button>
                <Button onClick={() => setAsked('advise against')}>Advise not to</Button>
              </>
            )}
            {!ended && first?.step === 'approve' && mayApprove && (
              <>
                {v.mayNotApprove === null && (
                  <Button kind="primary" onClick={() => setAsked('approve')}>
                    Approve it
                  </Button>
                )}
                <Button onClick={() => setAsked('send back')}>Send it back</Button>
              </>
            )}
            {!ended && mayWrite && (record.approval !== null || record.threshold?.needed === false) && (
              <Button
                kind={first?.step === 'look again' ? 'primary' : undefined}
                onClick={() => setAsked('look again')}
              >
                Look again
              </Button>
            )}
            {!ended && mayWrite && first?.step === 'consult' && (
              <Button kind="primary" onClick={() => setAsked('consult')}>
                The authority was asked
              </Button>
            )}
            {!ended && mayWrite && first?.step === 'answered' && (
              <>
                <Button kind="primary" onClick={() => setAsked('answered')}>
                  The authority answered
                </Button>
                {record.consultation?.extended === false && (
                  <Button onClick={() => quick({ act: 'longer' }, 'It has six weeks more.')}>
                    It takes longer
                  </Button>
                )}
              </>
            )}
            <a href={`/api/cases/impact/${id}/pdf`} download>
              PDF
            </a>
            {mayWrite && !ended && <Button onClick={() => setAsked('note')}>Note</Button>}
            {mayWrite && (
              <Button onClick={() => setAsked(ended ? 'open again' : 'end')}>
                {ended ? 'Open again' : 'End it'}
              </Button>
            )}
          </>
        }
      />
      <AnswerLine state={progress.state} needs={progress.needs} />
      {progress.changes.length > 0 && (
        <p className={css['note']}>Since it was approved there came {progress.changes.join('; ')}.</p>
      )}
      {first?.step === 'approve' && mayApprove && v.mayNotApprove && (
        <p className={css['note']}>{v.mayNotApprove}</p>
      )}
      <Sentence label="What">
        {text('What is done', 'about', 'What is done with data, step by step, was not written yet', 8000)}
      </Sentence>
      <Sentence label="Why">
        {text(
          'Why it is needed',
          'necessity',
          'Why it is needed, and why less would not do, was not written yet',
          8000,
        )}
      </Sentence>
      <LinksSentence
        links={content.links}
        facts={v.facts}
        options={v.options}
        fixed={fixed}
        set={(links) => set({ links })}
      />
      <Sentence label="Where">
        The people are in{' '}
        {slot('Countries', content.countries.map(countryWords).join(', ') || 'no country yet', {
          kind: 'text',
          most: 200,
          value: content.countries.join(' '),
          hint: 'Two letters of each, such as DK SE: their authorities’ lists count.',
          check: (value) =>
            /^\s*([A-Za-z]{2}[\s,]*)*$/.test(value) ? '' : 'Two letters of each country, such as DK SE.',
          set: (value) =>
            set({
              countries: [
                ...new Set(
                  value
                    .toUpperCase()
                    .split(/[\s,]+/)
                    .filter(Boolean),
                ),
              ],
            }),
        })}
        .
      </Sentence>
      <Questions threshold={v.threshold} content={content} fixed={fixed} set={set} />
      <h2 className={css['heading']}>Risks to people</h2>
      <RiskList risks={content.risks} proposed={v.proposed} fixed={fixed} set={(risks) => set({ risks })} />
      <h2 className={css['heading']}>What was said and decided</h2>
      <Sentence label="People">
        {text(
          'Views of people',
          'views',
          'What the people think of it, or why they were not asked, was not written yet',
          4000,
        )}
      </Sentence>
      <Decisions view={v} />
      <Sentence label="Again">
        Looked at again{' '}
        {slot('Next review', content.review ? `on ${dayText(content.review)}` : 'on no day yet', {
          kind: 'date',
          value: content.review,
          none: 'on no day yet',
          set: (review) => set({ review }),
        })}
        , and whenever what it is about grows.
      </Sentence>
      <StepList steps={v.steps} />
      <PastVersions<ImpactContent>
        kind="impact assessment"
        id={id}
        revision={object.revision}
        put={fixed ? undefined : save}
      />
      {(asked === 'needed' || asked === 'not needed') && (
        <DecideDialog needed={asked === 'needed'} threshold={v.threshold} send={act} onClose={close} />
      )}
      {(asked === 'consult' || asked === 'answered') && (
        <DayDialog what={asked} today={v.today} send={act} onClose={close} />
      )}
      {asked !== undefined && asked in ASKS && (
        <WordsDialog
          asks={ASKS[asked as Worded]}
          most={2000}
          fields={['does.words', 'words']}
          send={(words) =>
            act(
              asked === 'advise' || asked === 'advise against'
                ? { act: 'advise', proceed: asked === 'advise', words }
                : { act: asked as Exclude<Worded, 'advise' | 'advise against'>, words },
            )
          }
          onClose={close}
        />
      )}
    </>
  );
}

/** The questions that decide whether it is needed: what is proposed with its reason, and what somebody said. */
function Questions({
  threshold,
  content,
  fixed,
  set,
}: {
  readonly threshold: Threshold;
  readonly content: ImpactContent;
  readonly fixed: boolean;
  readonly set: (change: Partial<ImpactContent>) => void;
}) {
  const [asked, setAsked] = useState<AskedQuestion>();
  const holding = threshold.clauses.filter((c) => c.holds);
  return (
    <>
      <h2 className={css['heading']}>Whether it is needed</h2>
      <p className={css['answer']}>{threshold.words}.</p>
      <table className={css['table']} aria-label="What decides">
        <tbody>
          {threshold.questions.map((q) => (
            <tr key={q.id}>
              <td>{q.is ? '◼' : '◻'}</td>
              <td>
                {fixed ? (
                  q.words
                ) : (
                  <button type="button" className={css['linkButton']} onClick={() => setAsked(q)}>
                    {q.words}
                  </button>
                )}
              </td>
              <td className={css['tight']}>{q.is ? 'yes' : 'no'}</td>
              <td className={css['place']}>
                {q.because}
                {q.own ? (q.is === q.proposed ? '' : `, other than proposed`) : ' (proposed)'}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      <details>
        <summary>
          {holding.length} of {threshold.clauses.length} rules ask for it
        </summary>
        <table className={css['table']} aria-label="Rules">
          <tbody>
            {threshold.clauses.map((c) => (
              <tr key={c.law + c.words}>
                <td>{c.holds ? '◆' : '○'}</td>
                <td>{c.law}</td>
                <td>{c.words}</td>
                <td className={css['place']}>{c.because}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
      {asked && (
        <AnswerDialog
          question={asked}
          onAnswer={(is, why) => {
            set({ answers: { ...content.answers, [asked.id]: { is, why } } });
            setAsked(undefined);
          }}
          onClose={() => setAsked(undefined)}
        />
      )}
    </>
  );
}

function AnswerDialog({
  question: q,
  onAnswer,
  onClose,
}: {
  readonly question: AskedQuestion;
  readonly onAnswer: (is: boolean, why: string) => void;
  readonly onClose: () => void;
}) {
  const [is, setIs] = useState(q.is);
  const [why, setWhy] = useState(q.own ? q.because : '');
  const [tried, setTried] = useState(false);
  const short = why.trim().length < 3;
  return (
    <DialogForm
      title={`${withCapital(q.words)}?`}
      onClose={onClose}
      onSubmit={() => {
        setTried(true);
        if (!short) onAnswer(is, why.trim());
      }}
      act={is ? 'Yes' : 'No'}
      busy={false}
      refused={undefined}
    >
      <p className={css['note']}>
        Proposed: {q.proposed ? 'yes' : 'no'}
        {q.own ? '' : `, ${q.because}`}
      </p>
      <Field label="It is so">
        <select autoFocus value={is ? 'yes' : 'no'} onChange={(e) => setIs(e.target.value === 'yes')}>
          <option>yes</option>
          <option>no</option>
        </select>
      </Field>
      <Field label="Why" error={tried && short ? 'Say why: the authority may read it.' : undefined}>
        <textarea rows={3} maxLength={500} value={why} onChange={(e) => setWhy(e.target.value)} />
      </Field>
    </DialogForm>
  );
}

function DecideDialog({
  needed,
  threshold,
  send: put,
  onClose,
}: {
  readonly needed: boolean;
  readonly threshold: Threshold;
  readonly send: (does: ImpactAct) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const [why, setWhy] = useState('');
  const { busy, refused, error, send } = useSending();
  const wrong = error('why', 'does.why');
  return (
    <DialogForm
      title={needed ? 'An assessment is needed' : 'No assessment is needed'}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put({ act: 'decide', needed, why });
          onClose();
        })
      }
      act={needed ? 'It is needed' : 'It is not needed'}
      busy={busy}
      refused={wrong ? undefined : refused?.message}
    >
      <p className={css['note']}>By the rules: {threshold.words}.</p>
      <Field
        label="Why"
        error={wrong}
        hint={needed ? 'The rules say it; add what they do not' : 'A sentence that the authority may read'}
      >
        <textarea autoFocus rows={3} maxLength={2000} value={why} onChange={(e) => setWhy(e.target.value)} />
      </Field>
    </DialogForm>
  );
}

function DayDialog({
  what,
  today,
  send: put,
  onClose,
}: {
  readonly what: 'consult' | 'answered';
  readonly today: string;
  readonly send: (does: ImpactAct) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const [on, setOn] = useState(today);
  const [words, setWords] = useState('');
  const { busy, refused, error, send } = useSending();
  const wrong = error('on', 'does.on');
  return (
    <DialogForm
      title={what === 'consult' ? 'The authority was asked (Art. 36)' : 'The authority answered'}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put(what === 'consult' ? { act: 'consult', on } : { act: 'answered', on, words });
          onClose();
        })
      }
      act="Keep it"
      busy={busy}
      refused={wrong || error('does.words') ? undefined : refused?.message}
    >
      <Field
        label="On"
        error={wrong}
        hint={what === 'consult' ? 'It has eight weeks from then, and may take six more' : 'Nothing before'}
      >
        <input autoFocus type="date" value={on} onChange={(e) => setOn(e.target.value)} />
      </Field>
      {what === 'answered' ? (
        <Field label="What it said" error={error('does.words')}>
          <textarea rows={4} maxLength={2000} value={words} onChange={(e) => setWords(e.target.value)} />
        </Field>
      ) : (
        <></>
      )}
    </DialogForm>
  );
}

function Decisions({ view: { record, names, progress } }: { readonly view: ViewedImpact }) {
  const who = (d: { readonly by: number; readonly at: string }) => `${names[d.by] ?? ''}, ${whenWords(d.at)}`;
  const { advice, approval, consultation, ended, threshold } = record;
  return (
    <ul className={css['day']} aria-label="What was decided">
      <li>
        {threshold
          ? `✓ ${threshold.needed ? 'needed' : 'not needed'}: “${threshold.why}” · ${who(threshold)}`
          : '○ whether it is needed: not decided'}
      </li>
      <li>
        {advice
          ? `${advice.proceed ? '✓ the officer advises to go on' : '◆ the officer advises not to'}: “${advice.words}” · ${who(advice)}`
          : '○ advice of the data protection officer: not given'}
      </li>
      {consultation && (
        <li>
          {consultation.answeredOn
            ? `✓ the authority answered on ${dayText(consultation.answeredOn)}: “${consultation.answer}”`
            : `○ the authority was asked on ${dayText(consultation.sentOn)}, and has until ${dayText(progress.answerBy ?? '')}`}
        </li>
      )}
      <li>
        {approval
          ? `✓ approved${approval.words ? `: “${approval.words}”` : ''} · ${who(approval)}`
          : '○ not approved'}
      </li>
      {ended && (
        <li>
          ended: “{ended.why}” · {who(ended)}
        </li>
      )}
    </ul>
  );
}
