import { useState } from 'react';
import { needsSafeguard, SAFEGUARDS } from '../../../core/holdings/offers.ts';
import {
  VENDOR_ACCESS,
  VENDOR_ROLES,
  type Certificate,
  type Subprocessor,
  type VendorContent,
} from '../../../core/cases/vendors/vendor.ts';
import {
  EVENT_KINDS,
  EXIT_CHECKS,
  type ExitCheck,
  type VendorAct,
  type VendorEventKind,
} from '../../../core/cases/vendors/vendor-act.ts';
import { TIER_WORDS } from '../../../core/cases/vendors/vendor-tier.ts';
import { dayText, parseDay } from '../../../core/text/day.ts';
import type { ViewedVendor } from '../../../server/cases/vendors/view-vendor.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countryWords, percentWords, sizeWords, whenWords } from '../../desk/words.ts';
import { sendFile } from '../../holdings/offers.ts';
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
import { useDossier } from '../dossiers/use-dossiers.ts';
import css from '../cases.module.css';

type Worded = 'approve' | 'look again' | 'leave' | 'stay' | 'note';
type Asked =
  | Worded
  | 'ask'
  | 'event'
  | { readonly accept: string; readonly words: string }
  | { readonly seen: number; readonly words: string }
  | { readonly left: ExitCheck }
  | { readonly clause: string; readonly there: boolean; readonly words: string };

const ASKS: Readonly<Record<Worded, WordsAsked>> = {
  approve: {
    title: 'Approve it',
    label: 'Why, and under which conditions',
    act: 'Approve it',
    hint: 'Until the certificate ends.',
  },
  'look again': {
    title: 'Look at it again',
    label: 'Why',
    act: 'Look again',
    hint: 'It was bought by another firm.',
  },
  leave: { title: 'Leave it', label: 'Why', act: 'Begin to leave it', hint: 'The contract ends in June.' },
  stay: { title: 'Stay with it', label: 'Why', act: 'Stay with it', hint: 'The contract was renewed.' },
  note: {
    title: 'Note',
    label: 'For the history',
    act: 'Note it',
    hint: 'Talked with their security officer.',
  },
};

/** A vendor: what it gets and how closely it is looked at, what it answered, what its contract says, and what came since. */
export function VendorSheet({ id }: { readonly id: string }) {
  const {
    object,
    view: v,
    save,
    act,
    failed,
    again,
  } = useDossier<VendorContent, ViewedVendor, VendorAct>('vendors', id);
  const [mayWrite, mayApprove] = [useMay('cases.dossiers'), useMay('cases.approve')];
  const [asked, setAsked] = useState<Asked>();
  if (failed) return <Failure error={failed.error} onRetry={() => void failed.refetch()} />;
  if (!object || !v) return <Loading what="the vendor" />;
  const { content } = object;
  const { progress, record } = v;
  const fixed = !mayWrite || progress.state === 'left';
  const set = (change: Partial<VendorContent>) => void save({ ...content, ...change }, 'Saved.');
  const slot = slotsFor(fixed);
  const [first] = progress.needs;
  const choice = <K extends 'role' | 'access' | 'safeguard'>(
    key: K,
    label: string,
    words: Readonly<Record<string, string>>,
  ) =>
    slot(label, words[content[key]] ?? '', {
      kind: 'choice',
      value: content[key],
      options: optionsOf(words),
      set: (value) => set({ [key]: value }),
    });
  const text = (
    label: string,
    value: string,
    none: string,
    most: number,
    put: (value: string) => void,
    check?: (value: string) => string,
    hint?: string,
  ) =>
    slot(label, value || none, {
      kind: 'text',
      long: most > 400,
      most,
      value,
      set: put,
      ...(check ? { check } : {}),
      ...(hint ? { hint } : {}),
    });
  const day = (label: string, value: string, none: string, put: (value: string) => void) =>
    slot(label, value ? dayText(value) : none, { kind: 'date', value, none, set: put });
  const close = () => setAsked(undefined);
  return (
    <>
      <SheetHead
        title={text('Name', content.name, '', 160, (name) => set({ name }))}
        detail={
          <>
            V-{id} · {TIER_WORDS[progress.tier.tier]} ·{' '}
            {text('Owner', content.owner, 'Nobody yet', 120, (owner) => set({ owner }))} answers for it
          </>
        }
        actions={
          <>
            {mayWrite && progress.state === 'being looked at' && (
              <Button kind={first?.step === 'ask' ? 'primary' : undefined} onClick={() => setAsked('ask')}>
                {record.asked ? 'Ask again' : 'Send the questions'}
              </Button>
            )}
            {mayApprove && first?.step === 'approve' && (
              <Button kind="primary" onClick={() => setAsked('approve')}>
                Approve it
              </Button>
            )}
            {mayWrite && progress.state === 'approved' && (
              <Button
                kind={first?.step === 'look again' ? 'primary' : undefined}
                onClick={() => setAsked('look again')}
              >
                Look again
              </Button>
            )}
            {mayWrite && progress.state !== 'left' && (
              <Button onClick={() => setAsked('event')}>Something came</Button>
            )}
            {mayWrite && (
              <Button onClick={() => setAsked(record.exit ? 'stay' : 'leave')}>
                {record.exit ? 'Stay' : 'Leave it'}
              </Button>
            )}
            {mayWrite && <Button onClick={() => setAsked('note')}>Note</Button>}
          </>
        }
      />
      <AnswerLine state={progress.state} needs={progress.needs} />
      {progress.changes.length > 0 && (
        <p className={css['note']}>Since it was approved there came {progress.changes.join('; ')}.</p>
      )}
      <Sentence label="What">
        {text('Service', content.service, 'What it does was not written yet', 2000, (service) =>
          set({ service }),
        )}{' '}
        It is {choice('role', 'Role', VENDOR_ROLES)}, gets to {choice('access', 'Access', VENDOR_ACCESS)}, and
        without it we{' '}
        {slot('Vital', content.vital ? 'stand still' : 'go on', {
          kind: 'choice',
          value: String(content.vital),
          options: optionsOf({ true: 'stand still', false: 'go on' }),
          set: (value) => set({ vital: value === 'true' }),
        })}
        .
      </Sentence>
      <Sentence label="Where">
        It works in{' '}
        {text(
          'Country',
          content.country,
          'a country that is not known',
          2,
          (country) => set({ country: country.toUpperCase() }),
          (value) => (/^([A-Za-z]{2})?$/.test(value) ? '' : 'Two letters, such as DK.'),
        )}
        {content.country && ` (${countryWords(content.country)})`}
        {(needsSafeguard(content.country) || content.safeguard !== 'none') && (
          <>, on {choice('safeguard', 'Safeguard', SAFEGUARDS)}</>
        )}
        ; its hosts are{' '}
        {text(
          'Hosts',
          content.hosts.join(' '),
          'not known',
          2000,
          (value) =>
            set({
              hosts: value
                .toLowerCase()
                .split(/[\s,]+/)
                .filter(Boolean),
            }),
          undefined,
          'Hosts of theirs on our pages, such as wavemeter.example.',
        )}
        .
      </Sentence>
      <LinksSentence
        links={content.links}
        facts={v.facts}
        options={v.options}
        fixed={fixed}
        set={(links) => set({ links })}
      />
      <Sentence label="Others">
        It hands on to{' '}
        {text(
          'Subprocessors',
          content.subprocessors.map(subprocessorText).join('\n'),
          'nobody',
          20_000,
          (value) => set({ subprocessors: subprocessorsOf(value) ?? content.subprocessors }),
          (value) =>
            subprocessorsOf(value) ? '' : 'A line reads name | two letters of a country | what it does.',
          'A subprocessor a line: name | country | what it does.',
        )}
        . Its certificates:{' '}
        {text(
          'Certificates',
          content.certificates.map((c) => `${c.name} | ${dayText(c.ends)}`).join('\n'),
          'none',
          4000,
          (value) => set({ certificates: certificatesOf(value) ?? content.certificates }),
          (value) =>
            certificatesOf(value)
              ? ''
              : 'A line reads name | day on which it ends, such as ISO 27001 | 20 Nov 2027.',
          'A certificate a line: name | day on which it ends.',
        )}
        .
      </Sentence>
      <Sentence label="Contract">
        Signed{' '}
        {day('Signed', content.contract.signed, 'on no day yet', (signed) =>
          set({ contract: { ...content.contract, signed } }),
        )}
        , ends{' '}
        {day('Ends', content.contract.ends, 'when somebody ends it', (ends) =>
          set({ contract: { ...content.contract, ends } }),
        )}
        , to be ended{' '}
        {slot('Notice', `${content.contract.notice} days`, {
          kind: 'number',
          unit: 'days',
          least: 0,
          most: 730,
          value: content.contract.notice,
          set: (notice) => set({ contract: { ...content.contract, notice } }),
        })}{' '}
        before. Whom to ask:{' '}
        {text(
          'Contact',
          content.contact,
          'nobody yet',
          200,
          (contact) => set({ contact }),
          (value) =>
            value === '' || /^[^\s@]+@[^\s@]+\.[^\s@]+$/.test(value)
              ? ''
              : 'An address such as privacy@vendor.example.',
        )}
        .
      </Sentence>
      <Tier view={v} />
      <Answers view={v} fixed={fixed} onAccept={(accept, words) => setAsked({ accept, words })} />
      <Clauses
        view={v}
        fixed={fixed}
        onContract={(file) =>
          void sendFile(file)
            .then((upload) => request('POST', `/api/cases/vendors/${id}/contract`, { upload }))
            .then(() => {
              tell('It was read.');
              return again();
            })
            .catch(tellFailure)
        }
        onSay={(clause, there, words) => setAsked({ clause, there, words })}
        onFound={(clause, words) =>
          void act({ act: 'clause', clause, there: true, words })
            .then(() => tell('It is there.'))
            .catch(tellFailure)
        }
      />
      {(record.events.length > 0 || record.exit) && (
        <>
          <h2 className={css['heading']}>What came</h2>
          <ul className={css['day']} aria-label="What came">
            {record.events.toReversed().map((e) => (
              <li key={e.id}>
                {e.seen ? '✓' : '◆'} {EVENT_KINDS[e.kind]}: {e.words}{' '}
                <span className={css['place']}>{whenWords(e.at)}</span>
                {e.seen && ` “${e.seen.words}”`}{' '}
                {!e.seen && !fixed && (
                  <button
                    type="button"
                    className={css['linkButton']}
                    onClick={() => setAsked({ seen: e.id, words: e.words })}
                  >
                    it was looked at
                  </button>
                )}
              </li>
            ))}
            {record.exit &&
              (Object.entries(EXIT_CHECKS) as [ExitCheck, string][]).map(([check, words]) => {
                const said = record.exit?.checks[check];
                return (
                  <li key={check}>
                    {said ? `✓ ${words}: “${said.words}”` : `○ ${words} `}
                    {!said && !fixed && (
                      <button
                        type="button"
                        className={css['linkButton']}
                        onClick={() => setAsked({ left: check })}
                      >
                        it is so
                      </button>
                    )}
                  </li>
                );
              })}
          </ul>
        </>
      )}
      <StepList steps={v.steps} />
      <PastVersions<VendorContent>
        kind="vendor"
        id={id}
        revision={object.revision}
        put={fixed ? undefined : save}
      />
      {asked === 'ask' && <AskDialog view={v} send={act} onClose={close} />}
      {asked === 'event' && <EventDialog send={act} onClose={close} />}
      {asked !== undefined && asked !== 'ask' && asked !== 'event' && (
        <WordsDialog
          asks={typeof asked === 'string' ? ASKS[asked] : asksOf(asked)}
          most={2000}
          fields={['does.words', 'words']}
          send={(words) => act(actOf(asked, words))}
          onClose={close}
        />
      )}
    </>
  );
}

type Said = Exclude<Asked, 'ask' | 'event'>;

function actOf(asked: Said, words: string): VendorAct {
  if (typeof asked === 'string') return { act: asked, words };
  if ('accept' in asked) return { act: 'accept', question: asked.accept, words };
  if ('seen' in asked) return { act: 'seen', event: asked.seen, words };
  if ('left' in asked) return { act: 'left', check: asked.left, words };
  return { act: 'clause', clause: asked.clause, there: asked.there, words };
}

function asksOf(asked: Exclude<Said, string>): WordsAsked {
  if ('accept' in asked)
    return {
      title: asked.words,
      label: 'Why it can be lived with',
      act: 'Live with it',
      hint: 'Our own encryption covers it.',
    };
  if ('seen' in asked)
    return {
      title: asked.words,
      label: 'What it comes to',
      act: 'It was looked at',
      hint: 'None of our data was touched.',
    };
  if ('left' in asked)
    return {
      title: `It is so: ${EXIT_CHECKS[asked.left]}`,
      label: 'How it is known',
      act: 'It is so',
      hint: 'Their letter of 3 June.',
    };
  return asked.there
    ? { title: `The contract has it: ${asked.words}`, label: 'Where', act: 'It is there', hint: 'Clause 7.2' }
    : {
        title: `The contract lacks it: ${asked.words}`,
        label: 'Why it may lack; nothing where it has to be mended',
        act: 'It lacks',
        hint: 'A certificate stands in for audits.',
      };
}

const subprocessorText = (s: Subprocessor) => [s.name, s.country, s.does].join(' | ').replace(/( \| )+$/, '');

function subprocessorsOf(text: string): Subprocessor[] | undefined {
  const all = linesOf(text).map((l) => {
    const [name = '', country = '', does = '', ...rest] = l.split('|').map((p) => p.trim());
    return rest.length === 0 && name !== '' && /^([A-Za-z]{2})?$/.test(country)
      ? { name, country: country.toUpperCase(), does }
      : undefined;
  });
  return all.includes(undefined) ? undefined : (all as Subprocessor[]);
}

function certificatesOf(text: string): Certificate[] | undefined {
  const all = linesOf(text).map((l) => {
    const [name = '', ends = '', ...rest] = l.split('|').map((p) => p.trim());
    const on = parseDay(ends);
    return rest.length === 0 && name !== '' && on ? { name, ends: on } : undefined;
  });
  return all.includes(undefined) ? undefined : (all as Certificate[]);
}

function Tier({ view: { progress } }: { readonly view: ViewedVendor }) {
  return (
    <>
      <h2 className={css['heading']}>How closely it is looked at</h2>
      <table className={css['table']} aria-label="The sum of its tier">
        <tbody>
          {progress.tier.steps.map((s) => (
            <tr key={s.words}>
              <td>{s.words}</td>
              <td className={css['number']}>{s.value}</td>
            </tr>
          ))}
          <tr>
            <th scope="row">{TIER_WORDS[progress.tier.tier]} (first from 7, second from 4)</th>
            <td className={css['number']}>{progress.tier.score}</td>
          </tr>
        </tbody>
      </table>
      {progress.reviewOn && (
        <p className={css['note']}>
          Looked at again on {dayText(progress.reviewOn)}, and whenever it gets more.
        </p>
      )}
    </>
  );
}

function Answers({
  view: { record, progress, files, names, id },
  fixed,
  onAccept,
}: {
  readonly view: ViewedVendor;
  readonly fixed: boolean;
  readonly onAccept: (question: string, words: string) => void;
}) {
  const { asked } = record;
  const { score } = progress;
  if (!asked || !score) return null;
  return (
    <>
      <h2 className={css['heading']}>What it answered</h2>
      <p className={css['answer']}>
        {asked.sentAt
          ? `${score.score === null ? 'nothing that counts' : `${percentWords(score.score)} of what was asked is so`}, ${score.gaps.length} ${score.gaps.length === 1 ? 'gap' : 'gaps'}`
          : `${score.answered} of ${score.asked} answered; asked of ${asked.to} until ${dayText(asked.until)}`}
        .
      </p>
      <p className={css['note']}>
        {score.sections.map((s) => `${s.name} ${s.score === null ? '–' : percentWords(s.score)}`).join(', ')}
      </p>
      {asked.sentAt && score.gaps.length > 0 && (
        <ul className={css['bearers']} aria-label="Gaps">
          {score.gaps.map((g) => {
            const lived = record.accepted[g.question.id];
            return (
              <li key={g.question.id}>
                <span>
                  {lived ? '✓' : g.grave ? '◆' : '○'} {g.question.words} <b>{g.is}</b>
                  {record.answers[g.question.id]?.words && ` “${record.answers[g.question.id]?.words ?? ''}”`}
                  {lived && (
                    <span className={css['place']}>
                      {' '}
                      lived with: “{lived.words}”, {names[lived.by]}
                    </span>
                  )}
                </span>
                {!lived && !fixed && (
                  <Button onClick={() => onAccept(g.question.id, g.question.words)}>Live with it</Button>
                )}
              </li>
            );
          })}
        </ul>
      )}
      <details>
        <summary>All answers</summary>
        <table className={css['table']} aria-label="All answers">
          <tbody>
            {asked.questions.map((q) => (
              <tr key={q.id}>
                <td>
                  {q.words}
                  {q.must && <span className={css['place']}> has to be so</span>}
                </td>
                <td>{record.answers[q.id]?.is ?? '–'}</td>
                <td className={css['place']}>
                  {record.answers[q.id]?.words}
                  {files
                    .filter((f) => f.what === q.id)
                    .map((f) => (
                      <a key={f.id} href={`/api/cases/vendors/${id}/files/${f.id}`} download>
                        {' '}
                        {f.name} ({sizeWords(f.size)})
                      </a>
                    ))}
                </td>
              </tr>
            ))}
          </tbody>
        </table>
      </details>
    </>
  );
}

const SEEN = { there: 'proposed: there', perhaps: 'proposed: perhaps', missing: 'not found' } as const;

function Clauses({
  view: { clauses, contract, names, files, id },
  fixed,
  onContract,
  onSay,
  onFound,
}: {
  readonly view: ViewedVendor;
  readonly fixed: boolean;
  readonly onContract: (file: File) => void;
  readonly onSay: (clause: string, there: boolean, words: string) => void;
  /** It stands where it was proposed. */
  readonly onFound: (clause: string, words: string) => void;
}) {
  if (clauses.length === 0) return null;
  const kept = files.find((f) => f.what === 'contract');
  return (
    <>
      <h2 className={css['heading']}>What its contract says</h2>
      <p className={css['note']}>
        {contract && kept ? (
          <>
            <a href={`/api/cases/vendors/${id}/files/${kept.id}`} download>
              {contract.name}
            </a>
            , read {whenWords(contract.at)}; each clause is proposed by likeness, and said by you.
          </>
        ) : (
          'No contract was read yet: give its file, and the clauses that it has are proposed.'
        )}
      </p>
      {!fixed && (
        <label className={css['note']}>
          Read a contract{' '}
          <input
            type="file"
            accept=".pdf,.docx,.odt,.rtf,.txt,.md,.html"
            onChange={(e) => {
              const file = e.target.files?.[0];
              if (file) onContract(file);
              e.target.value = '';
            }}
          />
        </label>
      )}
      <table className={css['table']} aria-label="Clauses">
        <tbody>
          {clauses.map(({ clause: c, proposed, said }) => (
            <tr key={c.id}>
              <td>{said ? (said.there ? '✓' : '◆') : '○'}</td>
              <td>
                {c.words} <span className={css['place']}>{c.article}</span>
                {proposed?.passage && (
                  <details>
                    <summary>
                      {SEEN[proposed.verdict]}, {percentWords(proposed.likeness)} alike
                    </summary>
                    <q>{proposed.passage}</q>
                  </details>
                )}
                {proposed?.passage === '' && <span className={css['place']}> · {SEEN.missing}</span>}
                {said && (
                  <span className={css['place']}>
                    {' '}
                    {said.there ? 'there' : 'missing'}
                    {said.words && `: “${said.words}”`}, {names[said.by]}
                  </span>
                )}
              </td>
              <td>
                {!fixed && (
                  <span className={css['tight']}>
                    <Button
                      onClick={() =>
                        proposed?.verdict === 'there'
                          ? onFound(c.id, proposed.passage.slice(0, 200))
                          : onSay(c.id, true, c.words)
                      }
                    >
                      There
                    </Button>
                    <Button onClick={() => onSay(c.id, false, c.words)}>Missing</Button>
                  </span>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}

interface ActDialogProps {
  readonly send: (does: VendorAct) => Promise<unknown>;
  readonly onClose: () => void;
}

function AskDialog({ view, send: put, onClose }: ActDialogProps & { readonly view: ViewedVendor }) {
  const [questionnaire, setQuestionnaire] = useState(0);
  const { busy, refused, send } = useSending();
  return (
    <DialogForm
      title="Send it the questions"
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put({ act: 'ask', questionnaire });
          onClose();
        })
      }
      act="Send them"
      busy={busy}
      refused={refused?.field('contact', 'questionnaire') ?? refused?.message}
    >
      <p className={css['note']}>
        A link goes to its contact, who needs no account. It is asked what its tier is asked; what it answered
        before stays, to be looked over.
      </p>
      <Field label="Questionnaire">
        <select autoFocus value={questionnaire} onChange={(e) => setQuestionnaire(Number(e.target.value))}>
          {view.questionnaires.map((q) => (
            <option key={q.id} value={q.id}>
              {q.name} ({q.questions})
            </option>
          ))}
        </select>
      </Field>
    </DialogForm>
  );
}

function EventDialog({ send: put, onClose }: ActDialogProps) {
  const [kind, setKind] = useState<VendorEventKind>('breach');
  const [words, setWords] = useState('');
  const { busy, refused, error, send } = useSending();
  const wrong = error('does.words', 'words');
  return (
    <DialogForm
      title="Something came"
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put({ act: 'event', kind, words });
          onClose();
        })
      }
      act="Have it looked at"
      busy={busy}
      refused={wrong ? undefined : refused?.message}
    >
      <Field label="What it is">
        <select autoFocus value={kind} onChange={(e) => setKind(e.target.value as VendorEventKind)}>
          {Object.entries(EVENT_KINDS).map(([k, name]) => (
            <option key={k} value={k}>
              {name}
            </option>
          ))}
        </select>
      </Field>
      <Field label="In a few words" error={wrong}>
        <textarea rows={3} maxLength={1000} value={words} onChange={(e) => setWords(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
