import { useState } from 'react';
import type { MeasureView } from '../../../server/obligations/work/measure-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import css from '../obligations.module.css';

/** What people say to each other about a measure. */
export function Comments({ id, comments }: { readonly id: string } & Pick<MeasureView, 'comments'>) {
  const mayWork = useMay('obligations.work');
  const [said, setSaid] = useState('');
  const { busy, error, refused, send } = useSending();
  const add = async () => {
    await request('POST', `/api/obligations/measures/${encodeURIComponent(id)}/comments`, { said });
    setSaid('');
  };
  if (!mayWork && comments.length === 0) return null;
  return (
    <>
      <h2 className={css['heading']}>What was said</h2>
      <ul className={css['plain']}>
        {comments.map((c) => (
          <li key={c.id}>
            <span className={css['said']}>{c.said}</span>
            <small>
              {c.by}, {whenWords(c.at)}
            </small>
          </li>
        ))}
      </ul>
      {mayWork && (
        <form
          onSubmit={(e) => {
            e.preventDefault();
            void send(add);
          }}
        >
          <Field label="Say something" error={error('said') ?? refused?.message}>
            <textarea rows={2} value={said} maxLength={4000} onChange={(e) => setSaid(e.target.value)} />
          </Field>
          <Button type="submit" disabled={busy || said.trim() === ''}>
            Say it
          </Button>
        </form>
      )}
    </>
  );
}
