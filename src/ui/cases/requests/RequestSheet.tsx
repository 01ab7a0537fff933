import { useState } from 'react';
import { leftWords } from '../../../core/cases/requests/progress.ts';
import type { LetterId } from '../../../core/cases/requests/letters/request-letter.ts';
import { LETTER_WORDS } from '../../../core/cases/requests/letters/request-letter.ts';
import type { RequestAct, StepKind } from '../../../core/cases/requests/request-act.ts';
import {
  KNOWN_WORDS,
  needsIdentity,
  requestNumber,
  WAY_WORDS,
  WHOM_WORDS,
} from '../../../core/cases/requests/request.ts';
import { dayText } from '../../../core/text/day.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { requestLink } from '../links.ts';
import { ItemLook } from './ItemLook.tsx';
import { LetterDialog } from './LetterDialog.tsx';
import { CloseDialog, NoteDialog, type Noted } from './NoteDialog.tsx';
import { regionWords } from './RequestRegister.tsx';
import { SubjectDialog } from './SubjectDialog.tsx';
import { TaskTable } from './TaskTable.tsx';
import { TimeLine } from './TimeLine.tsx';
import { useActs, useRequest, type ViewedRequest } from './use-requests.ts';
import { WhereHeld } from './WhereHeld.tsx';
import css from '../cases.module.css';

/** One request: how long there is, what comes next, whom it is about, where they are, and what was done. */
export function RequestSheet({ id }: { readonly id: string }) {
  const query = useRequest(id);
  const acts = useActs(id);
  const mayHandle = useMay('cases.handle');
  const mayCarryOut = useMay('cases.carry-out');
  const chosen = useDeskLocation().query.get('item');
  const [letter, setLetter] = useState<LetterId>();
  const [noting, setNoting] = useState<Noted>();
  const [closing, setClosing] = useState(false);
  const [editing, setEditing] = useState(false);
  if (query.isError && !query.data)
    return <Failure error={query.error} onRetry={() => void query.refetch()} />;
  if (!query.data) return <Loading what="the request" />;
  const r = query.data;
  const { row, clock, needs } = r;
  const open = row.outcome === null;
  const [first] = needs;
  const quick = (does: RequestAct, said: string) =>
    void acts
      .act(does)
      .then(() => tell(said))
      .catch(tellFailure);
  const firstLook =
    r.items.find((i) => i.theirs === 'yes' && i.state === 'to look over') ??
    r.items.find((i) => i.theirs === 'ask');
  return (
    <>
      <SheetHead
        title={`${requestNumber(row.id)}, ${row.kind}`}
        detail={
          <>
            Somebody in {regionWords(row.region)} asks {WHOM_WORDS[r.request?.whom ?? 'self']} · {r.law.name}{' '}
            {r.law.rights[row.kind]} · {WAY_WORDS[row.way]} · handled by{' '}
            <Slot
              label="Handled by"
              words={r.handler ?? 'nobody yet'}
              fixed={!mayHandle || !open}
              edit={{
                kind: 'choice',
                value: String(row.handler ?? ''),
                options: [
                  { value: '', words: 'nobody yet' },
                  ...r.handlers.map((h) => ({ value: String(h.id), words: h.name })),
                ],
                set: (to) => quick({ act: 'assign', to: to === '' ? null : Number(to) }, 'Said.'),
              }}
            />{' '}
            ·{' '}
            {row.known_by === 'not needed'
              ? 'it need not be known who'
              : row.known_by
                ? `known by ${KNOWN_WORDS[row.known_by]}`
                : 'not yet known who it is'}
          </>
        }
        actions={
          mayHandle && (
            <>
              {open && (
                <NextAct
                  request={r}
                  acts={{
                    letter: setLetter,
                    quick,
                    close: () => setClosing(true),
                    agree: mayCarryOut
                      ? () =>
                          void acts
                            .agree()
                            .then(() => tell('It is being carried out.'))
                            .catch(tellFailure)
                      : undefined,
                    look: firstLook ? () => setQuery({ item: firstLook.id }, 'push') : undefined,
                  }}
                />
              )}
              {open && (
                <Button onClick={() => setLetter(r.facts.answered ? 'done' : letterOf(r))}>Write</Button>
              )}
              <Button onClick={() => setNoting('note')}>Note</Button>
              {!open && <Button onClick={() => setNoting('open again')}>Open again</Button>}
            </>
          )
        }
      />
      <p className={css['answer']}>
        {!open ? (
          `✓ ${row.outcome}${row.closed_at ? `, ${dayText(row.closed_at.slice(0, 10))}` : ''}`
        ) : r.facts.answered ? (
          `✓ answered on ${dayText(row.answered_on ?? '')}; close it`
        ) : (
          <>
            {clock.isLate ? <span className={css['mark']}>◆ {leftWords(clock)}</span> : leftWords(clock)}
            {first ? `: ${first.words}` : ': nothing is left but to close it'}
          </>
        )}
        .
      </p>
      <TimeLine request={r} />
      {chosen && <ItemLook key={chosen} id={id} item={chosen} kind={row.kind} open={open} items={r.items} />}
      {r.repetition.words && <p className={css['note']}>{r.repetition.words}</p>}
      <WhoAsks request={r} onEdit={mayHandle && open ? () => setEditing(true) : undefined} />
      {open && mayHandle && row.known_by === null && needsIdentity(row.kind) && (
        <div className={css['acts']}>
          <Button onClick={() => setNoting('known')}>I know who it is</Button>
          {row.asked_at && <Button onClick={() => setLetter('prove')}>Ask again</Button>}
        </div>
      )}
      {open && mayHandle && r.law.pauses.includes('clarification') && !clock.isPaused && (
        <div className={css['acts']}>
          <Button onClick={() => setNoting('wait')}>Ask what is meant</Button>
        </div>
      )}
      {open && mayHandle && clock.isPaused && (
        <div className={css['acts']}>
          <Button onClick={() => quick({ act: 'go on' }, 'The clock runs.')}>
            The answer came: let the clock run
          </Button>
        </div>
      )}
      <WhereHeld request={r} id={id} />
      {r.tasks.length > 0 && <TaskTable tasks={r.tasks} onAct={(task, does) => acts.actOnTask(task, does)} />}
      <Letters request={r} />
      <History request={r} />
      {letter && (
        <LetterDialog
          id={id}
          request={r}
          letter={letter}
          onLetter={setLetter}
          onClose={() => setLetter(undefined)}
        />
      )}
      {noting && <NoteDialog does={noting} send={acts.act} onClose={() => setNoting(undefined)} />}
      {closing && <CloseDialog send={acts.act} facts={r.facts} onClose={() => setClosing(false)} />}
      {editing && r.request && (
        <SubjectDialog subject={r.request.subject} send={acts.setSubject} onClose={() => setEditing(false)} />
      )}
    </>
  );
}

/** The letter that a request is likely to need. */
export function letterOf({ row, facts }: ViewedRequest): LetterId {
  if (row.known_by === null) return 'prove';
  if (row.kind === 'access' || row.kind === 'move')
    return facts.search === 'done' && facts.items.theirs === 0 ? 'nothing held' : 'package';
  return row.kind === 'delete' ? (facts.items.theirs === 0 ? 'nothing held' : 'deleted') : 'done';
}

function NextAct({
  request: r,
  acts,
}: {
  readonly request: ViewedRequest;
  readonly acts: {
    readonly letter: (letter: LetterId) => void;
    readonly quick: (does: RequestAct, said: string) => void;
    readonly close: () => void;
    readonly agree: (() => void) | undefined;
    readonly look: (() => void) | undefined;
  };
}) {
  const [first] = r.needs;
  if (!first)
    return (
      <Button kind="primary" onClick={acts.close}>
        Close it
      </Button>
    );
  switch (first.step) {
    case 'known':
      return r.facts.identity === 'not asked' ? (
        <Button kind="primary" onClick={() => acts.letter('prove')}>
          Ask who it is
        </Button>
      ) : null;
    case 'found':
      return r.facts.search === 'running' ? null : (
        <Button kind="primary" onClick={() => acts.quick({ act: 'search' }, 'They are being looked for.')}>
          {r.facts.search === 'never' ? 'Look for what is held' : 'Look again'}
        </Button>
      );
    case 'looked over':
      return (
        <Button kind="primary" onClick={acts.look}>
          Look over the {r.facts.items.toLookOver}
        </Button>
      );
    case 'told apart':
      return r.facts.bearers === 0 && acts.look ? (
        <Button kind="primary" onClick={acts.look}>
          Say whose
        </Button>
      ) : null;
    case 'package':
      return first.wrong ? null : (
        <Button kind="primary" onClick={() => acts.quick({ act: 'package' }, 'The package is being made.')}>
          Make the package
        </Button>
      );
    case 'carried out':
      return acts.agree ? (
        <Button kind="primary" onClick={acts.agree}>
          {r.row.kind === 'delete' ? 'Delete what can go' : 'Put it right'}
        </Button>
      ) : null;
    case 'answered':
      return (
        <Button kind="primary" onClick={() => acts.letter(letterOf(r))}>
          Answer it
        </Button>
      );
    case 'tasks':
      return null;
  }
}

function WhoAsks({
  request: { request: asked, known, proofs, others, row },
  onEdit,
}: {
  readonly request: ViewedRequest;
  readonly onEdit: (() => void) | undefined;
}) {
  if (!asked)
    return <p className={css['note']}>What it said of people was let go. How it went stands below.</p>;
  const { subject, asker, whom, words } = asked;
  const learned = known
    ? [
        ...known.numbers.filter((n) => !subject.numbers.includes(n)),
        ...known.phones.filter((p) => !subject.phones.includes(p)),
        ...(known.address !== subject.address ? [known.address] : []),
      ]
    : [];
  const facts: readonly (readonly [string, string])[] = [
    ['Name', [subject.name, ...subject.otherNames].filter(Boolean).join(', ')],
    ['E-mail', subject.emails.join(', ')],
    ['Numbers', subject.numbers.join(', ')],
    ['Phone', subject.phones.join(', ')],
    ['Born', subject.born && dayText(subject.born)],
    ['Address', subject.address],
    ['Asked by', whom === 'self' ? '' : `${asker.name} ${asker.email}`],
  ];
  return (
    <>
      <h2 className={css['heading']}>Whom it is about</h2>
      <dl className={css['facts']}>
        {facts
          .filter(([, v]) => v !== '')
          .map(([name, value]) => (
            <div key={name}>
              <dt>{name}</dt>
              <dd>{value}</dd>
            </div>
          ))}
      </dl>
      {learned.length > 0 && (
        <p className={css['note']}>Their own rows tell besides: {learned.join(', ')}.</p>
      )}
      {words && <p className={css['note']}>“{words}”</p>}
      {proofs.map((p) => (
        <p key={p.id}>
          <a href={`/api/cases/requests/${row.id}/proof?proof=${p.id}`} download>
            Proof that was sent, {Math.ceil(p.size / 1000)} kB
          </a>{' '}
          <span className={css['place']}>deleted once this is closed</span>
        </p>
      ))}
      {others.length > 0 && (
        <p className={css['note']}>
          The same person asked before:{' '}
          {others.slice(0, 5).map((o, i) => (
            <span key={o.id}>
              {i > 0 && ', '}
              <a href={requestLink(o.id)}>
                {requestNumber(o.id)}, {o.kind}, {dayText(o.receivedOn)}
              </a>
            </span>
          ))}
        </p>
      )}
      {onEdit && (
        <div className={css['acts']}>
          <Button onClick={onEdit}>Change by what they are recognised</Button>
        </div>
      )}
    </>
  );
}

function Letters({ request: { letters } }: { readonly request: ViewedRequest }) {
  if (letters.length === 0) return null;
  return (
    <>
      <h2 className={css['heading']}>Letters</h2>
      {letters.map((l) => (
        <details key={l.id} className={css['letter']}>
          <summary>
            {whenWords(l.at)} · {LETTER_WORDS[l.letter]}{' '}
            <span className={css['place']}>· {l.by ?? 'by itself'}</span>
          </summary>
          {l.content ? (
            <>
              <p>
                <b>{l.content.subject}</b>
              </p>
              {l.content.paragraphs.map((p, i) => (
                <p key={i}>{p}</p>
              ))}
            </>
          ) : (
            <p className={css['note']}>What it said was let go.</p>
          )}
        </details>
      ))}
    </>
  );
}

const STEP: Readonly<Record<StepKind, string>> = {
  'came in': 'Came in',
  assign: 'Given to',
  note: 'Noted',
  asked: 'Asked who it is',
  known: 'Known who it is',
  wait: 'The clock stands',
  'go on': 'The clock runs',
  extended: 'Told that it takes longer',
  wrote: 'Wrote',
  answered: 'Answered',
  search: 'Looked for',
  found: 'Found',
  routed: 'Owners were told',
  'task done': 'Task done',
  reminded: 'Reminded',
  nudged: 'Those above were told',
  'told apart': 'Told apart',
  'looked over': 'Looked over',
  package: 'Package made',
  fetched: 'Fetched by the person',
  agreed: 'Agreed',
  'carried out': 'Carried out',
  close: 'Closed',
  'open again': 'Opened again',
  forgot: 'What was gathered was let go',
};

function History({ request: { steps } }: { readonly request: ViewedRequest }) {
  return (
    <>
      <h2 className={css['heading']}>What happened</h2>
      <ol className={css['day']} aria-label="What happened">
        {steps.map((s, i) => (
          <li key={`${s.at} ${i}`}>
            <time dateTime={s.at}>{whenWords(s.at)}</time> <b>{STEP[s.kind]}</b>
            {s.words && `: ${s.words}`}
            {s.by && <span className={css['place']}> · {s.by}</span>}
          </li>
        ))}
      </ol>
      <p className={css['note']}>
        {countWords(steps.length, 'step')}; what was decided, written and fetched is in the ledger too.
      </p>
    </>
  );
}
