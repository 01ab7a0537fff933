import { useState } from 'react';
import type { Subject } from '../../../core/cases/requests/person/subject.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { SubjectFields, subjectOf, textOf } from './SubjectFields.tsx';

/** Changes by what whom a request is about is recognised. */
export function SubjectDialog({
  subject,
  send: put,
  onClose,
}: {
  readonly subject: Subject;
  readonly send: (subject: Subject) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const [text, setText] = useState(() => textOf(subject));
  const { busy, refused, error, send } = useSending();
  return (
    <DialogForm
      title="By what they are recognised"
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put(subjectOf(text));
          onClose();
        })
      }
      act="Keep it, and look again"
      busy={busy}
      refused={refused?.message}
    >
      <SubjectFields value={text} onChange={setText} error={error} />
    </DialogForm>
  );
}
