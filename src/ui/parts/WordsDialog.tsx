import { useState } from 'react';
import { DialogForm } from './DialogForm.tsx';
import { Field } from './Field.tsx';
import { useSending } from './use-sending.ts';

export interface WordsAsked {
  readonly title: string;
  readonly label: string;
  /** What sending does, in words. */
  readonly act: string;
  readonly hint: string;
}

/** Asks for the words that go with an act. */
export function WordsDialog({
  asks,
  most,
  fields,
  send: put,
  onClose,
}: {
  readonly asks: WordsAsked;
  /** Characters. */
  readonly most: number;
  /** Names that the endpoint has for them. */
  readonly fields: readonly string[];
  readonly send: (words: string) => Promise<unknown>;
  readonly onClose: () => void;
}) {
  const [words, setWords] = useState('');
  const { busy, refused, error, send } = useSending();
  const wrong = error(...fields);
  return (
    <DialogForm
      title={asks.title}
      onClose={onClose}
      onSubmit={() =>
        send(async () => {
          await put(words);
          onClose();
        })
      }
      act={asks.act}
      busy={busy}
      refused={wrong ? undefined : refused?.message}
    >
      <Field label={asks.label} error={wrong}>
        <textarea
          autoFocus
          rows={3}
          maxLength={most}
          value={words}
          placeholder={asks.hint}
          onChange={(e) => setWords(e.target.value)}
        />
      </Field>
    </DialogForm>
  );
}
