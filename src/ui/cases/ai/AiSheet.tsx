import { useState } from 'react';
import { AI_CLASSES, AI_ROLES, type AiQuestion } from '../../../core/cases/ai/ai-act.ts';
import {
  AI_STAGES,
  AI_STAGE_WORDS,
  stageOf,
  type AiAct,
  type AiStage,
} from '../../../core/cases/ai/ai-record.ts';
import { DECIDES, type AiContent, type AiTest } from '../../../core/cases/ai/ai-system.ts';
import type { ModelCard } from '../../../core/cases/ai/model-card.ts';
import { dayText } from '../../../core/text/day.ts';
import type { ViewedAi } from '../../../server/cases/ai/view-ai.ts';
import { useMay } from '../../desk/account-context.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { Sentence } from '../../parts/Sentence.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { WordsDialog, type WordsAsked } from '../../parts/WordsDialog.tsx';
import { PastVersions } from '../../rules/PastEdits.tsx';
import {
  AnswerLine,
  LinksSentence,
  linesOf,
  optionsOf,
  slotsFor,
  StepList,
} from '../dossiers/DossierParts.tsx';
import { RiskList } from '../dossiers/RiskList.tsx';
import { useDossier } from '../dossiers/use-dossiers.ts';
import { dossierLink } from '../links.ts';
import css from '../cases.module.css';

type Worded = 'approve' | 'look again' | 'note';
type Asked = Worded | 'stage' | 'test' | { readonly duty: string; readonly words: string };

const ASKS: Readonly<Record<Worded, WordsAsked>> = {
  approve: {
    title: 'Approve it',
    label: 'Why, and under which conditions',
    act: 'Approve it',
    hint: 'For mail of the terminals alone.',
  },
  'look again': {
    title: 'Look at it again',
    label: 'Why',
    act: 'Look again',
    hint: 'It answers in Swedish now.',
  },
  note: {
    title: 'Note',
    label: 'For the history',
    act: 'Note it',
    hint: 'The provider changes the model in May.',
  },
};

/** An AI system: its class with what follows from it, what it is made of and for, its risks and tests, and its life. */
export function AiSheet({ id }: { readonly id: string }) {
  const { object, view: v, save, act, failed } = useDossier<AiContent, ViewedAi, AiAct>('ai', id);
  const [mayWrite, mayApprove, mayWatch] = [
    useMay('cases.dossiers'),
    useMay('cases.approve'),
    useMay('protection.watch'),
  ];
  const [asked, setAsked] = useState<Asked>();
  if (failed) return <Failure error={failed.error} onRetry={() => void failed.refetch()} />;
  if (!object || !v) return <Loading what="the AI system" />;
  const { content } = object;
  const { progress, record } = v;
  const { classed } = progress;
  const fixed = !mayWrite || progress.state === 'retired';
  const set = (change: Partial<AiContent>) => void save({ ...content, ...change }, 'Saved.');
  const slot = slotsFor(fixed);
  const text = (
    label: string,
    key: 'purpose' | 'provider' | 'dataIn' | 'dataOut' | 'oversight' | 'owner',
    none: string,
    most: number,
  ) =>
    slot(label, content[key] || none, {
      kind: 'text',
      long: most > 400,
      most,
      value: content[key],
      set: (value) => set({ [key]: value }),
    });
  const close = () => setAsked(undefined);
  const [first] = progress.needs;
  const ways = AI_STAGES[stageOf(record)];
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
            AI-{id} · {AI_CLASSES[classed.class]} · {AI_STAGE_WORDS[progress.state]} ·{' '}
            {text('Owner', 'owner', 'Nobody yet', 120)} answers for it
          </>
        }
        actions={
          <>
            {mayApprove && progress.ready && (
              <Button kind="primary" onClick={() => setAsked('approve')}>
                Approve it
              </Button>
            )}
            {mayWrite && record.approval && (
              <Button
                kind={first?.step === 'look again' ? 'primary' : undefined}
                onClick={() => setAsked('look again')}
              >
                Look again
              </Button>
            )}
            {mayWrite && ways.length > 0 && <Button onClick={() => setAsked('stage')}>Move it on</Button>}
            {mayWrite && mayWatch && (
              <Button
                onClick={() =>
                  void act({ act: 'watch' })
                    .then(() => tell('A lookout on what is given to it stands as a draft, in Protection.'))
                    .catch(tellFailure)
                }
              >
                Watch what is given to it
              </Button>
            )}
            {mayWrite && <Button onClick={() => setAsked('note')}>Note</Button>}
          </>
        }
      />
      <AnswerLine state={AI_STAGE_WORDS[progress.state]} needs={progress.needs} />
      {progress.changes.length > 0 && (
        <p className={css['note']}>Since it was approved there came {progress.changes.join('; ')}.</p>
      )}
      <Sentence label="What">
        To {text('Purpose', 'purpose', 'do what was not written yet', 2000)}. It{' '}
        {slot('How far it decides', DECIDES[content.decides], {
          kind: 'choice',
          value: content.decides,
          options: optionsOf(DECIDES),
          set: (decides) => set({ decides: decides as AiContent['decides'] }),
        })}
        ; it affects{' '}
        {slot('Whom it affects', content.people.join(', ') || 'nobody who was named yet', {
          kind: 'text',
          long: true,
          most: 4000,
          value: content.people.join('\n'),
          hint: 'A kind of people a line: passengers, applicants.',
          set: (value) => set({ people: linesOf(value) }),
        })}
        .
      </Sentence>
      <Sentence label="Data">
        In goes {text('What goes in', 'dataIn', 'what was not written yet', 2000)}; out comes{' '}
        {text('What comes out', 'dataOut', 'what was not written yet', 2000)}.
      </Sentence>
      <Sentence label="Who">
        {text('Provider', 'provider', 'A provider that was not named', 200)} makes it,{' '}
        {slot(
          'Vendor',
          content.vendor
            ? `the vendor ${v.vendors.find((o) => o.value === content.vendor)?.words ?? ''}`
            : 'no vendor of ours',
          {
            kind: 'choice',
            value: content.vendor,
            options: [{ value: '', words: 'no vendor of ours' }, ...v.vendors],
            set: (vendor) => set({ vendor }),
          },
        )}
        ; our organisation{' '}
        {slot('Role', AI_ROLES[content.role], {
          kind: 'choice',
          value: content.role,
          options: optionsOf(AI_ROLES),
          set: (role) => set({ role: role as AiContent['role'] }),
        })}
        . Watched over by: {text('Oversight', 'oversight', 'nobody who was named', 2000)}.
      </Sentence>
      <LinksSentence
        links={content.links}
        facts={v.facts}
        options={v.options}
        fixed={fixed}
        set={(links) => set({ links })}
      />
      <Sentence label="Assessed">
        In{' '}
        {slot(
          'Impact assessments',
          content.assessments
            .map((a) => v.assessments.find((o) => o.value === a)?.words ?? 'one that is gone')
            .join(', ') || 'no impact assessment yet',
          {
            kind: 'many',
            value: content.assessments,
            options: v.assessments,
            set: (all) => set({ assessments: [...all] }),
          },
        )}
        {content.assessments.map((a) => (
          <a key={a} href={dossierLink('impact', a)}>
            {' '}
            IA-{a}, {v.assessments.find((o) => o.value === a)?.state || 'begun'}
          </a>
        ))}
        .
      </Sentence>
      <Class
        view={v}
        content={content}
        fixed={fixed}
        set={set}
        onDuty={(duty, words) => setAsked({ duty, words })}
      />
      <h2 className={css['heading']}>Risks to people</h2>
      <RiskList risks={content.risks} proposed={v.proposed} fixed={fixed} set={(risks) => set({ risks })} />
      <h2 className={css['heading']}>What was tested</h2>
      <ul className={css['bearers']} aria-label="Tests">
        {content.tests.map((t, n) => (
          <li key={n}>
            <span>
              {t.passed ? '✓' : <span className={css['mark']}>◆</span>} {t.what}:{' '}
              {t.result || (t.passed ? 'passed' : 'failed')}{' '}
              <span className={css['place']}>{dayText(t.on)}</span>
            </span>
            {!fixed && (
              <Button onClick={() => set({ tests: content.tests.filter((_, i) => i !== n) })}>
                Take out
              </Button>
            )}
          </li>
        ))}
      </ul>
      {!fixed && (
        <div className={css['acts']}>
          <Button onClick={() => setAsked('test')}>Add a test</Button>
        </div>
      )}
      {content.card && <Card card={content.card} />}
      <h2 className={css['heading']}>Its life</h2>
      <ul className={css['day']} aria-label="Its life">
        {record.life.length === 0 && <li>planned since it was taken in</li>}
        {record.life.map((l, n) => (
          <li key={n}>
            {AI_STAGE_WORDS[l.stage]} from {dayText(l.on)}
            {l.words && `: “${l.words}”`} <span className={css['place']}>{v.names[l.by]}</span>
          </li>
        ))}
        {record.approval && (
          <li>
            ✓ approved as {AI_CLASSES[record.approval.class]}
            {record.approval.words && `: “${record.approval.words}”`}{' '}
            <span className={css['place']}>
              {v.names[record.approval.by]}, {whenWords(record.approval.at)}
            </span>
          </li>
        )}
      </ul>
      <StepList steps={v.steps} />
      <PastVersions<AiContent>
        kind="AI system"
        id={id}
        revision={object.revision}
        put={fixed ? undefined : save}
      />
      {asked === 'stage' && <StageDialog ways={ways} today={v.today} send={act} onClose={close} />}
      {asked === 'test' && (
        <TestDialog
          today={v.today}
          onKeep={(t) => {
            set({ tests: [...content.tests, t] });
            close();
          }}
          onClose={close}
        />
      )}
      {asked !== undefined && asked !== 'stage' && asked !== 'test' && (
        <WordsDialog
          asks={
            typeof asked === 'string'
              ? ASKS[asked]
              : {
                  title: `${asked.duty}: ${asked.words}`,
                  label: 'How it is seen to',
                  act: 'It is seen to',
                  hint: 'A course on 3 June for all who use it.',
                }
          }
          most={2000}
          fields={['does.words', 'words']}
          send={(words) =>
            act(
              typeof asked === 'string' ? { act: asked, words } : { act: 'duty', article: asked.duty, words },
            )
          }
          onClose={close}
        />
      )}
    </>
  );
}

/** The class, question by question, and what follows from it. */
function Class({
  view: { progress, questions, record, names, today },
  content,
  fixed,
  set,
  onDuty,
}: {
  readonly view: ViewedAi;
  readonly content: AiContent;
  readonly fixed: boolean;
  readonly set: (change: Partial<AiContent>) => void;
  readonly onDuty: (article: string, words: string) => void;
}) {
  const { classed } = progress;
  const next = classed.open[0];
  const answer = (q: AiQuestion, is: boolean) =>
    set({ answers: { ...content.answers, [q.id]: { is, why: '' } } });
  return (
    <>
      <h2 className={css['heading']}>Its class by the AI Act</h2>
      <p className={css['answer']}>
        {classed.class === 'prohibited' ? (
          <span className={css['mark']}>◆ prohibited</span>
        ) : (
          AI_CLASSES[classed.class]
        )}
        {classed.because.length > 0 && classed.class !== 'minimal' && `: ${classed.because.join('; ')}`}
      </p>
      {next && !fixed && (
        <div className={css['bearers']} role="group" aria-label="The next question">
          <p>
            <b>{next.words}</b> <span className={css['place']}>{next.article}</span>
            {questions.find((q) => q.id === next.id)?.proposed && (
              <span className={css['place']}> · {questions.find((q) => q.id === next.id)?.proposed}</span>
            )}
          </p>
          <div className={css['acts']}>
            <Button onClick={() => answer(next, true)}>Yes</Button>
            <Button onClick={() => answer(next, false)}>No</Button>
            <span className={css['place']}>{classed.open.length} open</span>
          </div>
        </div>
      )}
      <details>
        <summary>All questions</summary>
        <table className={css['table']} aria-label="All questions">
          <tbody>
            {questions.map((q) => {
              const said = content.answers[q.id];
              return (
                <tr key={q.id}>
                  <td>
                    {q.words} <span className={css['place']}>{q.article}</span>
                    {q.proposed && <span className={css['place']}> · {q.proposed}</span>}
                  </td>
                  <td>
                    {fixed ? (
                      said ? (
                        said.is ? (
                          'yes'
                        ) : (
                          'no'
                        )
                      ) : (
                        '–'
                      )
                    ) : (
                      <select
                        aria-label={q.words}
                        value={said ? (said.is ? 'yes' : 'no') : ''}
                        onChange={(e) => {
                          if (e.target.value !== '') return answer(q, e.target.value === 'yes');
                          const { [q.id]: _gone, ...rest } = content.answers;
                          set({ answers: rest });
                        }}
                      >
                        <option value="">open</option>
                        <option>yes</option>
                        <option>no</option>
                      </select>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      </details>
      {classed.duties.length > 0 && (
        <table className={css['table']} aria-label="What follows from it">
          <thead>
            <tr>
              <th scope="col">What follows from it</th>
              <th scope="col">Applies from</th>
              <th scope="col">State</th>
            </tr>
          </thead>
          <tbody>
            {classed.duties.map((d) => {
              const said = record.duties[d.article];
              return (
                <tr key={d.article}>
                  <td>
                    {d.words} <span className={css['place']}>{d.article}</span>
                  </td>
                  <td>
                    {dayText(d.from)}
                    {d.from > today && <span className={css['place']}> not yet</span>}
                  </td>
                  <td>
                    {said ? (
                      `✓ “${said.words}”, ${names[said.by] ?? ''}`
                    ) : fixed ? (
                      '○'
                    ) : (
                      <button
                        type="button"
                        className={css['linkButton']}
                        onClick={() => onDuty(d.article, d.words)}
                      >
                        ○ it is seen to
                      </button>
                    )}
                  </td>
                </tr>
              );
            })}
          </tbody>
        </table>
      )}
    </>
  );
}

function Card({ card }: { readonly card: ModelCard }) {
  const lines: readonly (readonly [string, string])[] = [
    ['Model', [card.name, card.version].filter(Boolean).join(' ')],
    ['Task', card.task],
    ['Licence', card.licence],
    ['Languages', card.languages.join(', ')],
    ['Trained with', [card.datasets.join(', '), card.training].filter(Boolean).join('. ')],
    ['Made from', card.base],
    ['Measured', card.measures.map((m) => `${m.name} ${m.value}${m.on ? ` on ${m.on}` : ''}`).join(', ')],
    ['Meant for', card.intended],
    ['Limits', card.limits],
    ['Ethics', card.ethics],
  ];
  return (
    <>
      <h2 className={css['heading']}>What its card says</h2>
      <dl className={css['facts']}>
        {lines
          .filter(([, words]) => words !== '')
          .map(([what, words]) => (
            <div key={what}>
              <dt>{what}</dt>
              <dd>{words}</dd>
            </div>
          ))}
      </dl>
      <p className={css['place']}>
        Read from {card.format === 'CycloneDX' ? 'a CycloneDX list of parts' : 'a model card'}.
      </p>
    </>
  );
}

function StageDialog({
  ways,
  today,
  send: put,
  onClose,
}: {
  readonly ways: readonly AiStage[];
  readonly today: string;
  readonly send: (does: AiAct) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const [to, setTo] = useState<AiStage>(ways[0] ?? 'retired');
  const [on, setOn] = useState(today);
  const [words, setWords] = useState('');
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title="Move it on"
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put({ act: 'stage', to, on, words });
          onClose();
        })
      }
      act={`It is ${AI_STAGE_WORDS[to]}`}
      busy={busy}
      refused={error('on', 'does.on') ? undefined : refused?.message}
    >
      <div className={css['two']}>
        <Field label="It is now">
          <select autoFocus value={to} onChange={(e) => setTo(e.target.value as AiStage)}>
            {ways.map((w) => (
              <option key={w} value={w}>
                {AI_STAGE_WORDS[w]}
              </option>
            ))}
          </select>
        </Field>
        <Field label="From" error={error('on', 'does.on')}>
          <input type="date" value={on} onChange={(e) => setOn(e.target.value)} />
        </Field>
      </div>
      <Field label="For the history">
        <input value={words} maxLength={2000} onChange={(e) => setWords(e.target.value)} />
      </Field>
    </DialogForm>
  );
}

function TestDialog({
  today,
  onKeep,
  onClose,
}: {
  readonly today: string;
  readonly onKeep: (test: AiTest) => void;
  readonly onClose: () => void;
}) {
  const [t, setT] = useState<AiTest>({ what: '', on: today, result: '', passed: true });
  const [tried, setTried] = useState(false);
  return (
    <DialogForm
      title="A test"
      onClose={onClose}
      onSubmit={() => {
        setTried(true);
        if (t.what.trim() !== '' && t.on !== '') onKeep(t);
      }}
      act="Keep it"
      busy={false}
      refused={undefined}
    >
      <Field
        label="What was tested"
        error={tried && t.what.trim() === '' ? 'Say what was tested.' : undefined}
      >
        <input
          autoFocus
          value={t.what}
          maxLength={300}
          onChange={(e) => setT({ ...t, what: e.target.value })}
        />
      </Field>
      <div className={css['two']}>
        <Field label="On">
          <input type="date" value={t.on} onChange={(e) => setT({ ...t, on: e.target.value })} />
        </Field>
        <Field label="It">
          <select
            value={t.passed ? 'passed' : 'failed'}
            onChange={(e) => setT({ ...t, passed: e.target.value === 'passed' })}
          >
            <option>passed</option>
            <option>failed</option>
          </select>
        </Field>
      </div>
      <Field label="What came of it">
        <textarea
          rows={2}
          maxLength={1000}
          value={t.result}
          onChange={(e) => setT({ ...t, result: e.target.value })}
        />
      </Field>
    </DialogForm>
  );
}
