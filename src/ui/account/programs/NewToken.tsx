import { useState } from 'react';
import { may, type Account } from '../../../core/accounts/authority.ts';
import { MOST_TOKEN_DAYS, TOKEN_ACTIONS } from '../../../core/accounts/programs/token.ts';
import { permissionWords } from '../../../core/accounts/roles/permissions.ts';
import { setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { countWords } from '../../desk/words.ts';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { ShownOnce } from '../../parts/ShownOnce.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { useSending } from '../../parts/use-sending.ts';

const DAYS = [30, 90, MOST_TOKEN_DAYS];

/** Gives a program a token to act as oneself, for some of what one may do. */
export function NewToken({ account }: { readonly account: Account }) {
  const given = TOKEN_ACTIONS.filter((a) => may(account, a));
  const reads = given.filter((a) => a.endsWith('.read'));
  const [name, setName] = useState('');
  const [actions, setActions] = useState<readonly string[]>(reads);
  const [days, setDays] = useState(90);
  const [token, setToken] = useState('');
  const { busy, refused, error, send } = useSending();
  const close = () => setQuery({ new: null });
  const add = async () =>
    setToken(
      (await request<{ token: string }>('POST', '/api/accounts/tokens', { name, actions, days })).token,
    );
  return (
    <DialogForm
      title="Make a token"
      onClose={close}
      onSubmit={() => (token ? close() : send(add))}
      act={token ? 'It is kept' : 'Make it'}
      busy={busy}
      refused={error('name') || error('actions') ? undefined : refused?.message}
    >
      {token ? (
        <ShownOnce label="Token" text={token} />
      ) : (
        <>
          <Field label="What it is called" error={error('name')}>
            <input
              autoFocus
              value={name}
              maxLength={120}
              placeholder="Nightly figures"
              onChange={(e) => setName(e.target.value)}
            />
          </Field>
          <div>
            It acts as you, and may do{' '}
            <Slot
              label="What it may do"
              words={actionWords(actions, reads)}
              error={error('actions')}
              edit={{
                kind: 'many',
                options: given.map((a) => ({ value: a, words: permissionWords(a), detail: a })),
                value: actions,
                set: setActions,
              }}
            />
            , for{' '}
            <Slot
              label="For how many days"
              words={countWords(days, 'day')}
              error={error('days')}
              edit={{
                kind: 'choice',
                options: DAYS.map((d) => ({ value: String(d), words: countWords(d, 'day') })),
                value: String(days),
                set: (d) => setDays(Number(d)),
              }}
            />
            .
          </div>
        </>
      )}
    </DialogForm>
  );
}

function actionWords(actions: readonly string[], reads: readonly string[]): string {
  if (actions.length === 0) return 'nothing yet';
  if (actions.length === reads.length && reads.every((a) => actions.includes(a)))
    return `all that reads (${reads.length})`;
  const [first = ''] = actions;
  return actions.length === 1
    ? permissionWords(first)
    : `${permissionWords(first)} and ${actions.length - 1} more`;
}
