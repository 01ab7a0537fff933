import { useQuery } from '@tanstack/react-query';
import { useEffect, useState } from 'react';
import { LETTER_WORDS, LETTERS, type LetterId } from '../../../core/cases/requests/letters/request-letter.ts';
import { tell } from '../../desk/toasts.ts';
import { CopyText } from '../../parts/CopyText.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { Failure } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { draftLetter, useActs, type ViewedRequest } from './use-requests.ts';
import css from '../cases.module.css';

const ASKS_WHY: readonly LetterId[] = ['extended', 'refused'];

/** A letter with the data of the case put in; read over, changed where it has to be, and sent. */
export function LetterDialog({
  id,
  request,
  letter,
  onLetter,
  onClose,
}: {
  readonly id: string;
  readonly request: ViewedRequest;
  readonly letter: LetterId;
  readonly onLetter: (letter: LetterId) => void;
  readonly onClose: () => void;
}) {
  const [reason, setReason] = useState('');
  const [asked, setAsked] = useState('');
  const [subject, setSubject] = useState('');
  const [text, setText] = useState('');
  const { act } = useActs(id);
  const { busy, refused, error, send } = useSending();
  const draft = useQuery({
    // What somebody writes in it stays, whatever happens to the request meanwhile.
    queryKey: ['request-letter', id, letter, asked],
    queryFn: () => draftLetter(id, letter, asked),
    ...{ staleTime: Infinity, gcTime: 0 },
  });
  useEffect(() => {
    if (!draft.data) return;
    setSubject(draft.data.subject);
    setText(draft.data.paragraphs.join('\n\n'));
  }, [draft.data]);
  const phrase = letter === 'package' ? request.package?.phrase : null;
  return (
    <DialogForm
      title="Write"
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          const paragraphs = text
            .split(/\n{2,}/)
            .map((p) => p.trim())
            .filter(Boolean);
          await act({ act: 'write', letter, subject, paragraphs, reason });
          tell('It is sent.');
          onClose();
        })
      }
      act={draft.data?.to ? `Send it to ${draft.data.to}` : 'Send it'}
      busy={busy}
      disabled={!draft.data}
      refused={error('reason', 'does.reason', 'does.subject', 'paragraphs') ? undefined : refused?.message}
    >
      <Field label="Letter">
        <select autoFocus value={letter} onChange={(e) => onLetter(e.target.value as LetterId)}>
          {LETTERS.filter((l) => l !== 'passphrase').map((l) => (
            <option key={l} value={l}>
              {LETTER_WORDS[l]}
            </option>
          ))}
        </select>
      </Field>
      {ASKS_WHY.includes(letter) && (
        <Field
          label="Why"
          error={error('reason', 'does.reason')}
          hint="In their language: it stands in the letter."
        >
          <input
            value={reason}
            maxLength={500}
            onChange={(e) => setReason(e.target.value)}
            onBlur={() => setAsked(reason)}
          />
        </Field>
      )}
      {draft.isError && <Failure error={draft.error} onRetry={() => void draft.refetch()} />}
      <Field label="Subject" error={error('does.subject')}>
        <input
          value={subject}
          maxLength={200}
          lang={draft.data?.language}
          onChange={(e) => setSubject(e.target.value)}
        />
      </Field>
      <Field label="Text" error={error('paragraphs', 'does.paragraphs')}>
        <textarea
          rows={14}
          value={text}
          lang={draft.data?.language}
          onChange={(e) => setText(e.target.value)}
        />
      </Field>
      {phrase && (
        <div className={css['note']}>
          Tell them the passphrase another way, by telephone or post:{' '}
          <CopyText text={phrase} label="Passphrase" />
        </div>
      )}
    </DialogForm>
  );
}
