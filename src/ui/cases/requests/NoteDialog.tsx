import { useState } from 'react';
import { whyNotClosed, type RequestFacts } from '../../../core/cases/requests/progress.ts';
import type { RequestAct } from '../../../core/cases/requests/request-act.ts';
import { OUTCOME_WORDS, OUTCOMES, type Outcome } from '../../../core/cases/requests/request.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { WordsDialog, type WordsAsked } from '../../parts/WordsDialog.tsx';

export type Noted = 'note' | 'known' | 'wait' | 'open again';

const ASKS: Readonly<Record<Noted, WordsAsked>> = {
  note: {
    title: 'Note',
    label: 'For the history',
    act: 'Note it',
    hint: 'Telephoned; they mean the crossing in July.',
  },
  known: {
    ...{ title: 'I know who it is', label: 'How you know', act: 'It is them' },
    hint: 'Came to the desk with a passport; not copied.',
  },
  wait: {
    ...{ title: 'Ask what is meant', label: 'What you asked', act: 'The clock stands' },
    hint: 'Which of the four years is meant.',
  },
  'open again': {
    title: 'Open again',
    label: 'Why',
    act: 'Open it again',
    hint: 'They wrote that something is missing.',
  },
};

/** Asks for the words that go with an act on a request. */
export function NoteDialog({
  does,
  send,
  onClose,
}: {
  readonly does: Noted;
  readonly send: (act: RequestAct) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const actOf = (words: string): RequestAct => {
    if (does === 'known') return { act: 'known', by: 'hand', words };
    return does === 'wait' ? { act: 'wait', why: 'clarification', words } : { act: does, words };
  };
  return (
    <WordsDialog
      asks={ASKS[does]}
      most={500}
      fields={['does.words', 'words']}
      send={(words) => send(actOf(words))}
      onClose={onClose}
    />
  );
}

/** Ends a request; what keeps it from ending so is told beforehand. */
export function CloseDialog({
  send: put,
  facts,
  onClose,
}: {
  readonly send: (act: RequestAct) => Promise<unknown>;
  readonly facts: RequestFacts;
  readonly onClose: () => void;
}) {
  const [outcome, setOutcome] = useState<Outcome>('answered');
  const [words, setWords] = useState('');
  const { busy, refused, send } = useSending();
  const why = whyNotClosed(facts, outcome);
  return (
    <DialogForm
      title="Close it"
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put({ act: 'close', outcome, words });
          onClose();
        })
      }
      act="Close it"
      busy={busy}
      disabled={why !== undefined}
      refused={refused?.message ?? why}
    >
      <Field label="It is">
        <select autoFocus value={outcome} onChange={(e) => setOutcome(e.target.value as Outcome)}>
          {OUTCOMES.map((o) => (
            <option key={o} value={o}>
              {OUTCOME_WORDS[o]}
            </option>
          ))}
        </select>
      </Field>
      <Field label="Remark" hint="Stands in the history; no data of people.">
        <textarea rows={2} maxLength={500} value={words} onChange={(e) => setWords(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
