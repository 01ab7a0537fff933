import { useMutation } from '@tanstack/react-query';
import { useState } from 'react';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { dayWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { ShownOnce } from '../../parts/ShownOnce.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { usePrograms } from '../use-publishing.ts';
import css from '../protection.module.css';

/** Editors and mail programs that offer the levels: each has a token of its own. */
export function Programs() {
  const mayRead = useMay('programs.read');
  return mayRead ? <ProgramTable /> : null;
}

function ProgramTable() {
  const { data } = usePrograms();
  const mayEdit = useMay('programs.edit');
  const [adding, setAdding] = useState(false);
  const end = useMutation({
    mutationFn: ({ id }: { id: number; name: string }) => request('DELETE', `/api/accounts/programs/${id}`),
    onSuccess: (_done, { name }) => tell(`${name} cannot ask any more.`),
    onError: tellFailure,
  });
  if (!data) return null;
  return (
    <section aria-label="Programs">
      <h2 className={css['heading']}>Programs that offer them</h2>
      {data.length === 0 ? (
        <p className={css['note']}>
          None yet. An editor or a mail program asks with a token which levels somebody is offered, and has
          what they chose stamped.
        </p>
      ) : (
        <FigureTable
          columns={['Program', 'Let in', 'Asked last', { unseen: 'Acts' }]}
          rows={data.map((p) => ({
            key: p.id,
            cells: [
              p.name,
              dayWords(p.madeAt),
              p.endedAt ? `ended ${whenWords(p.endedAt)}` : p.usedAt ? whenWords(p.usedAt) : 'never',
              mayEdit && !p.endedAt && (
                <Button disabled={end.isPending} onClick={() => end.mutate(p)}>
                  End its token
                </Button>
              ),
            ],
          }))}
        />
      )}
      {mayEdit && (
        <p className={css['note']}>
          <Button onClick={() => setAdding(true)}>Let a program in …</Button>
        </p>
      )}
      {adding && <NewProgram onClose={() => setAdding(false)} />}
    </section>
  );
}

function NewProgram({ onClose }: { readonly onClose: () => void }) {
  const [name, setName] = useState('');
  const [token, setToken] = useState('');
  const { busy, refused, error, send } = useSending();
  const add = async () => {
    const made = await request<{ token: string }>('POST', '/api/accounts/programs', {
      name,
      scope: 'levels',
    });
    setToken(made.token);
  };
  return (
    <DialogForm
      title="Let a program in"
      onClose={onClose}
      onSubmit={() => (token ? onClose() : send(add))}
      act={token ? 'It is kept' : 'Make its token'}
      busy={busy}
      refused={error('name') ? undefined : refused?.message}
    >
      {token ? (
        <ShownOnce label="Token" text={token} />
      ) : (
        <Field label="What it is called" error={error('name')}>
          <input
            autoFocus
            value={name}
            maxLength={120}
            placeholder="Editor of the terminals"
            onChange={(e) => setName(e.target.value)}
          />
        </Field>
      )}
    </DialogForm>
  );
}
