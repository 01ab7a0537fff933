import { useState } from 'react';
import type { IncidentAct, INCIDENT_STEPS } from '../../../core/cases/incidents/incident-act.ts';
import { leftUntil } from '../../../core/cases/incidents/deadlines.ts';
import { INCIDENT_KINDS, incidentNumber } from '../../../core/cases/incidents/incident.ts';
import { peopleWords, reachedByWords } from '../../../core/cases/incidents/reckoned.ts';
import { dayText } from '../../../core/text/day.ts';
import { useMay } from '../../desk/account-context.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { placeLink } from '../../access/offers.ts';
import { itemLink } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { WordsDialog, type WordsAsked } from '../../parts/WordsDialog.tsx';
import { regionWords } from '../requests/RequestRegister.tsx';
import {
  DecideDialog,
  MeasureDialog,
  ToldDialog,
  TouchDialog,
  touchedWords,
  WeighDialog,
  WordsOfLetters,
} from './IncidentDialogs.tsx';
import { useIncident, useIncidentAct, type ViewedIncident } from './use-incidents.ts';
import css from '../cases.module.css';

type Asked =
  | 'touch'
  | 'weigh'
  | 'decide'
  | 'words'
  | 'measure'
  | 'note'
  | 'close'
  | 'no breach'
  | 'open again'
  | 'disagree'
  | { readonly told: string };

type Worded = 'note' | 'close' | 'no breach' | 'open again' | 'disagree';

const ASKS: Readonly<Record<Worded, WordsAsked>> = {
  note: {
    ...{ title: 'Note', label: 'For the history', act: 'Note it' },
    hint: 'The ship is back in port on Friday.',
  },
  close: {
    ...{ title: 'Close it', label: 'What is learned from it', act: 'Close it' },
    hint: 'Laptops of the bridge are encrypted.',
  },
  'no breach': {
    ...{ title: 'It is no breach of personal data', label: 'Why', act: 'It is none' },
    hint: 'The bag was found at the desk, still sealed.',
  },
  'open again': {
    ...{ title: 'Open again', label: 'Why', act: 'Open it again' },
    hint: 'It was seen for sale.',
  },
  disagree: {
    ...{ title: 'I do not agree', label: 'Why', act: 'It is decided anew' },
    hint: 'The list had birth dates.',
  },
};

/** One incident: what runs out when, who and how many it is about, how grave it is, what was decided, and what was told. */
export function IncidentSheet({ id }: { readonly id: string }) {
  const [language, setLanguage] = useState('en');
  const query = useIncident(id, language);
  const act = useIncidentAct(id);
  const mayAct = useMay('cases.incidents');
  const [asked, setAsked] = useState<Asked>();
  if (query.isError && !query.data)
    return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data) return <Loading what="the incident" />;
  const i = query.data;
  const open = i.closedAt === null && mayAct;
  const quick = (does: IncidentAct, said: string) =>
    void act(does)
      .then(() => tell(said))
      .catch(tellFailure);
  const { next } = i;
  const [first] = i.needs;
  const close = () => setAsked(undefined);
  return (
    <>
      <SheetHead
        title={`${incidentNumber(i.id)}, ${i.incident.title}`}
        detail={
          <>
            {INCIDENT_KINDS[i.incident.kind]} · known {whenWords(i.knownAt)}
            {i.incident.happenedAt && ` · happened ${whenWords(i.incident.happenedAt)}`}
            {i.incident.reporter && ` · told by ${i.incident.reporter}`} · handled by{' '}
            <Slot
              label="Handled by"
              words={i.handler?.name ?? 'nobody yet'}
              fixed={!open}
              edit={{
                kind: 'choice',
                value: String(i.handler?.id ?? ''),
                options: [
                  { value: '', words: 'nobody yet' },
                  ...i.handlers.map((h) => ({ value: String(h.id), words: h.name })),
                ],
                set: (to) => quick({ act: 'assign', to: to === '' ? null : Number(to) }, 'Said.'),
              }}
            />
          </>
        }
        actions={
          !open ? (
            mayAct && <Button onClick={() => setAsked('open again')}>Open again</Button>
          ) : (
            <>
              {first?.step === 'reckoned' && (
                <Button
                  kind="primary"
                  onClick={() =>
                    i.incident.touched.length === 0
                      ? setAsked('touch')
                      : quick({ act: 'reckon' }, 'It is reckoned.')
                  }
                >
                  {i.incident.touched.length === 0 ? 'Say what it touched' : 'Reckon who and how many'}
                </Button>
              )}
              {first?.step === 'severity' && (
                <Button kind="primary" onClick={() => setAsked('weigh')}>
                  Weigh it
                </Button>
              )}
              {first?.step === 'decided' && (
                <Button kind="primary" onClick={() => setAsked('decide')}>
                  Decide who is told
                </Button>
              )}
              {!first && (
                <Button kind="primary" onClick={() => setAsked('close')}>
                  Close it
                </Button>
              )}
              {i.decision === null && <Button onClick={() => setAsked('no breach')}>It is none</Button>}
              <Button onClick={() => setAsked('note')}>Note</Button>
            </>
          )
        }
      />
      <p className={css['answer']}>
        {i.closedAt ? (
          `✓ ${i.noBreach === null ? 'closed' : 'no breach of personal data:'} ${i.noBreach ?? whenWords(i.closedAt)}`
        ) : next?.by ? (
          next.by < i.now ? (
            <span className={css['mark']}>
              ◆ {leftUntil(next.by, i.now)} to tell the {next.to}
            </span>
          ) : (
            `${leftUntil(next.by, i.now)} to tell the ${next.to}`
          )
        ) : (
          'no time runs'
        )}
        {first && `: ${first.words}`}.
      </p>
      {i.incident.words && <p className={css['note']}>“{i.incident.words}”</p>}
      <Times incident={i} open={open} onTold={(told) => setAsked({ told })} />
      <WhoAndHowMany
        incident={i}
        open={open}
        onTouch={() => setAsked('touch')}
        onReckon={() => quick({ act: 'reckon' }, 'It is reckoned.')}
      />
      <HowGrave incident={i} open={open} onWeigh={() => setAsked('weigh')} />
      <Decision
        incident={i}
        open={open}
        onDecide={() => setAsked('decide')}
        onAgree={() => quick({ act: 'agree', agrees: true, words: '' }, 'You agree.')}
        onDisagree={() => setAsked('disagree')}
      />
      <h2 className={css['heading']}>What is done so that it does not happen again</h2>
      <ul className={css['day']} aria-label="Measures">
        {i.measures.map((m) => (
          <li key={m.id}>
            {m.doneAt ? '✓' : '○'} {m.what}{' '}
            <span className={css['place']}>
              {m.owner ?? 'nobody'} · due {dayText(m.dueOn)}
            </span>{' '}
            {open && !m.doneAt && (
              <button
                type="button"
                className={css['linkButton']}
                onClick={() => quick({ act: 'measure done', measure: m.id }, 'It is done.')}
              >
                done
              </button>
            )}
          </li>
        ))}
      </ul>
      {open && (
        <div className={css['acts']}>
          <Button onClick={() => setAsked('measure')}>Add a measure</Button>
        </div>
      )}
      <Letters
        incident={i}
        language={language}
        onLanguage={setLanguage}
        onWords={open ? () => setAsked('words') : undefined}
      />
      <History incident={i} />
      {asked === 'touch' && <TouchDialog incident={i} send={act} onClose={close} />}
      {asked === 'weigh' && <WeighDialog incident={i} send={act} onClose={close} />}
      {asked === 'decide' && <DecideDialog incident={i} send={act} onClose={close} />}
      {asked === 'words' && <WordsOfLetters incident={i} send={act} onClose={close} />}
      {asked === 'measure' && <MeasureDialog incident={i} send={act} onClose={close} />}
      {typeof asked === 'object' && <ToldDialog deadline={asked.told} send={act} onClose={close} />}
      {typeof asked === 'string' && asked in ASKS && (
        <WordsDialog
          asks={ASKS[asked as Worded]}
          most={500}
          fields={['does.words', 'words']}
          send={(words) =>
            act(
              asked === 'disagree'
                ? { act: 'agree', agrees: false, words }
                : { act: asked as Exclude<Worded, 'disagree'>, words },
            )
          }
          onClose={close}
        />
      )}
    </>
  );
}

function Times({
  incident: { deadlines, now, closedAt, incident },
  open,
  onTold,
}: {
  readonly incident: ViewedIncident;
  readonly open: boolean;
  readonly onTold: (deadline: string) => void;
}) {
  return (
    <>
      <h2 className={css['heading']}>Whom laws have told, by when</h2>
      {deadlines.length === 0 ? (
        <p className={css['note']}>
          {incident.regions.length === 0
            ? 'Nobody said yet where the people live: say what it touched, and where.'
            : 'No law that is known names anybody here.'}
        </p>
      ) : (
        <table className={css['table']} aria-label="Whom laws have told">
          <thead>
            <tr>
              <th scope="col">By</th>
              <th scope="col">Whom</th>
              <th scope="col">Law</th>
              <th scope="col">State</th>
            </tr>
          </thead>
          <tbody>
            {deadlines.map((d) => {
              return (
                <tr key={d.id}>
                  <td>{d.by ? whenWords(d.by) : 'without delay'}</td>
                  <td>{d.words}</td>
                  <td>
                    {d.law} <span className={css['place']}>{d.article}</span>
                  </td>
                  <td>
                    {d.toldAt ? (
                      `✓ told ${whenWords(d.toldAt)}${d.by && d.toldAt > d.by ? ', late' : ''}`
                    ) : d.unwanted ? (
                      'decided: not told'
                    ) : (
                      <>
                        {closedAt === null &&
                          d.by &&
                          (d.by < now ? (
                            <span className={css['mark']}>◆ {leftUntil(d.by, now)}</span>
                          ) : (
                            `○ ${leftUntil(d.by, now)}`
                          ))}{' '}
                        {open && (
                          <button type="button" className={css['linkButton']} onClick={() => onTold(d.id)}>
                            they were told
                          </button>
                        )}
                      </>
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

function WhoAndHowMany({
  incident: i,
  open,
  onTouch,
  onReckon,
}: {
  readonly incident: ViewedIncident;
  readonly open: boolean;
  readonly onTouch: () => void;
  readonly onReckon: () => void;
}) {
  const { reckoned, incident } = i;
  const touched = incident.touched.map((t) => touchedWords(t, i));
  return (
    <>
      <h2 className={css['heading']}>Who, and how many</h2>
      <p>
        {touched.length === 0 ? 'Nobody said yet what it touched' : `It touched ${touched.join(', ')}`}
        {incident.regions.length > 0 &&
          `; the people live in ${incident.regions.map(regionWords).join(', ')}`}
        .
      </p>
      {reckoned && (
        <>
          <p className={css['answer']}>
            {peopleWords(reckoned)}, in {countWords(reckoned.items, 'item')}.
          </p>
          {reckoned.reach.map((r) => (
            <p key={r.where} className={css['note']}>
              {r.anyone ? <span className={css['mark']}>◆</span> : '○'}{' '}
              <a href={placeLink(r.key)}>{r.where}</a>: {reachedByWords(r, dayText)}.
            </p>
          ))}
          {reckoned.unknown.map((u) => (
            <p key={u} className={css['note']}>
              ○ {u}
            </p>
          ))}
          {reckoned.data.length > 0 && (
            <p className={css['note']}>
              {reckoned.data
                .slice(0, 12)
                .map((d) => `${d.name} (${numberWords(d.matches)})`)
                .join(', ')}
            </p>
          )}
          <details>
            <summary>The {countWords(reckoned.listed.length, 'item')} with most people</summary>
            <table className={css['table']} aria-label="Items">
              <tbody>
                {reckoned.listed.map((l, n) => (
                  <tr key={n}>
                    <td>
                      {l.id === null ? l.name : <a href={itemLink(String(l.id), 'everything')}>{l.name}</a>}
                    </td>
                    <td className={css['place']}>{l.where}</td>
                    <td className={css['number']}>{numberWords(l.people)}</td>
                  </tr>
                ))}
              </tbody>
            </table>
          </details>
        </>
      )}
      {open && (
        <div className={css['acts']}>
          <Button onClick={onTouch}>Say what it touched</Button>
          {incident.touched.length > 0 && (
            <Button onClick={onReckon}>{reckoned ? 'Reckon again' : 'Reckon'}</Button>
          )}
        </div>
      )}
    </>
  );
}

function HowGrave({
  incident: { severity },
  open,
  onWeigh,
}: {
  readonly incident: ViewedIncident;
  readonly open: boolean;
  readonly onWeigh: () => void;
}) {
  return (
    <>
      <h2 className={css['heading']}>How grave it is</h2>
      {severity ? (
        <>
          <p className={css['answer']}>
            {severity.level}, {severity.score.toFixed(2)}
            {severity.flags.length > 0 && ` · ${severity.flags.join(', ')}`}
          </p>
          <table className={css['table']} aria-label="The sum">
            <tbody>
              {severity.steps.map((s) => (
                <tr key={s.words}>
                  <td>{s.words}</td>
                  <td className={css['number']}>{s.value}</td>
                </tr>
              ))}
              <tr>
                <th scope="row">by the method of ENISA (2013): below 2 low, from 3 high, from 4 very high</th>
                <td className={css['number']}>{severity.score.toFixed(2)}</td>
              </tr>
            </tbody>
          </table>
        </>
      ) : (
        <p className={css['note']}>Nobody weighed it yet.</p>
      )}
      {open && (
        <div className={css['acts']}>
          <Button onClick={onWeigh}>{severity ? 'Weigh it again' : 'Weigh it'}</Button>
        </div>
      )}
    </>
  );
}

function Decision({
  incident: { decision, proposal },
  open,
  onDecide,
  onAgree,
  onDisagree,
}: {
  readonly incident: ViewedIncident;
  readonly open: boolean;
  readonly onDecide: () => void;
  readonly onAgree: () => void;
  readonly onDisagree: () => void;
}) {
  return (
    <>
      <h2 className={css['heading']}>Who is told</h2>
      {decision ? (
        <>
          <p>
            The authority: <b>{decision.authority}</b>. The people: <b>{decision.people}</b>. “
            {decision.reason}”
          </p>
          <p className={css['note']}>
            Decided by {decision.byName};{' '}
            {decision.agreedName
              ? `✓ agreed by ${decision.agreedName}`
              : decision.mine
                ? '○ somebody else has to agree'
                : '○ a second person has to agree'}
            .
          </p>
          {open && decision.agreedBy === null && !decision.mine && (
            <div className={css['acts']}>
              <Button kind="primary" onClick={onAgree}>
                I agree
              </Button>
              <Button onClick={onDisagree}>I do not</Button>
            </div>
          )}
        </>
      ) : (
        <p className={css['note']}>
          {proposal ? `By how grave it is: ${proposal.why}` : 'Nobody decided yet; weigh it first.'}
        </p>
      )}
      {open && proposal && (
        <div className={css['acts']}>
          <Button onClick={onDecide}>{decision ? 'Decide anew' : 'Decide'}</Button>
        </div>
      )}
    </>
  );
}

const LANGUAGES = { en: 'English', da: 'Danish', sv: 'Swedish', de: 'German' } as const;

function Letters({
  incident: { letters },
  language,
  onLanguage,
  onWords,
}: {
  readonly incident: ViewedIncident;
  readonly language: string;
  readonly onLanguage: (language: string) => void;
  readonly onWords: (() => void) | undefined;
}) {
  return (
    <>
      <h2 className={css['heading']}>Drafts of both letters</h2>
      <details className={css['letter']}>
        <summary>To the authority (Art. 33(3))</summary>
        <p>
          <b>{letters.authority.subject}</b>
        </p>
        {letters.authority.paragraphs.map((p, n) => (
          <p key={n}>{p}</p>
        ))}
      </details>
      <details className={css['letter']}>
        <summary>To the people (Art. 34(2))</summary>
        <select
          aria-label="Language of the letter"
          value={language}
          onChange={(e) => onLanguage(e.target.value)}
        >
          {Object.entries(LANGUAGES).map(([l, name]) => (
            <option key={l} value={l}>
              {name}
            </option>
          ))}
        </select>
        <p>
          <b>{letters.people.subject}</b>
        </p>
        {letters.people.paragraphs.map((p, n) => (
          <p key={n} lang={language}>
            {p}
          </p>
        ))}
      </details>
      {onWords && (
        <div className={css['acts']}>
          <Button onClick={onWords}>Word them</Button>
        </div>
      )}
    </>
  );
}

const STEP: Readonly<Record<(typeof INCIDENT_STEPS)[number], string>> = {
  'taken in': 'Taken in',
  assign: 'Given to',
  note: 'Noted',
  touch: 'What it touched',
  reckon: 'Reckoned',
  weigh: 'Weighed',
  decide: 'Decided',
  agree: 'Agreed',
  disagree: 'Not agreed',
  words: 'Letters worded',
  told: 'Told',
  measure: 'Measure',
  'measure done': 'Measure done',
  close: 'Closed',
  'no breach': 'No breach',
  'open again': 'Opened again',
};

function History({ incident: { steps, evidence } }: { readonly incident: ViewedIncident }) {
  return (
    <>
      <h2 className={css['heading']}>What happened since</h2>
      <ol className={css['day']} aria-label="What happened since">
        {steps.map((s, n) => (
          <li key={n}>
            <time dateTime={s.at}>{whenWords(s.at)}</time> <b>{STEP[s.kind]}</b>
            {s.words && `: ${s.words}`}
            {s.by && <span className={css['place']}> · {s.by}</span>}
          </li>
        ))}
      </ol>
      {evidence.length > 0 && (
        <details>
          <summary>{countWords(evidence.length, 'digest')} of what was there</summary>
          {evidence.map((e) => (
            <p key={e.hash + e.at} className={css['note']}>
              {whenWords(e.at)}, {e.what}: <span className={css['phrase']}>{e.hash}</span>
            </p>
          ))}
        </details>
      )}
    </>
  );
}
