import { useState } from 'react';
import type { Board } from '../../../core/figures/board.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { NewNamed } from '../../rules/NewNamed.tsx';
import { useBoard } from './use-boards.ts';

/** A board of one's own; with the figures of another, where that is said. */
export function NewBoard() {
  const { query } = useDeskLocation();
  const like = query.get('like');
  return (
    <NewNamed
      title={like ? 'A board like this one' : 'New board'}
      path="/api/evidence/boards"
      link={(id) => `/evidence/boards/${id}`}
      most={80}
      placeholder="Quarter in figures"
      act="Make it"
      more={async () =>
        like
          ? (await request<{ content: Board }>('GET', `/api/objects/board/${encodeURIComponent(like)}`))
              .content
          : { tiles: [] }
      }
    />
  );
}

/** What a board is called, and what it is for. */
export function BoardWords({ id }: { readonly id: number }) {
  const board = useBoard(id);
  const content = board.query.data?.content;
  const close = () => setQuery({ words: null });
  return content ? <WordsForm content={content} onSave={board.save} onClose={close} /> : null;
}

function WordsForm({
  content,
  onSave,
  onClose,
}: {
  readonly content: Board;
  readonly onSave: (content: Board, done: string) => Promise<void>;
  readonly onClose: () => void;
}) {
  const [name, setName] = useState(content.name);
  const [about, setAbout] = useState(content.about);
  return (
    <DialogForm
      title="What the board is for"
      onClose={onClose}
      onSubmit={async () => {
        await onSave({ ...content, name: name.trim() || content.name, about: about.trim() }, 'Kept.');
        onClose();
      }}
      act="Keep it"
    >
      <Field label="What it is called">
        <input autoFocus value={name} maxLength={80} onChange={(e) => setName(e.target.value)} />
      </Field>
      <Field label="What it is for" hint="The question that it answers.">
        <textarea rows={3} maxLength={300} value={about} onChange={(e) => setAbout(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
