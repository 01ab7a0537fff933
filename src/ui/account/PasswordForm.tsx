import { useState } from 'react';
import type * as accountsPasswordApi from '../../pages/api/accounts/password.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { PASSWORD_LENGTH } from '../../core/accounts/password.ts';
import { request, RequestError } from '../desk/request.ts';
import { tell, tellFailure } from '../desk/toasts.ts';
import { Button } from '../parts/Button.tsx';
import { Field } from '../parts/Field.tsx';
import css from './account.module.css';

/** Gives oneself another password; other sessions end with the old one. */
export function PasswordForm({ email }: { readonly email: string }) {
  const [current, setCurrent] = useState('');
  const [next, setNext] = useState('');
  const [error, setError] = useState<RequestError | undefined>();
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    setError(undefined);
    try {
      const { ended } = await request<AnswerOf<typeof accountsPasswordApi.POST>>(
        'POST',
        '/api/accounts/password',
        { current, next },
      );
      setCurrent('');
      setNext('');
      tell(
        ended === 0
          ? 'Your password is changed.'
          : `Your password is changed; ${ended === 1 ? 'your other session is' : `your ${ended} other sessions are`} over.`,
      );
    } catch (e) {
      if (e instanceof RequestError && (e.field('current', 'next') || e.status === 429)) setError(e);
      else tellFailure(e);
    } finally {
      setBusy(false);
    }
  };
  return (
    <form
      className={css['password']}
      onSubmit={(e) => {
        e.preventDefault();
        void submit();
      }}
    >
      <input type="hidden" autoComplete="username" value={email} readOnly />
      <Field label="The one you have" error={error?.status === 429 ? error.message : error?.field('current')}>
        <input
          type="password"
          autoComplete="current-password"
          required
          value={current}
          onChange={(e) => setCurrent(e.target.value)}
        />
      </Field>
      <Field
        label="A new one"
        hint={`At least ${PASSWORD_LENGTH.least} characters; a few words do well.`}
        error={error?.field('next')}
      >
        <input
          type="password"
          autoComplete="new-password"
          required
          value={next}
          onChange={(e) => setNext(e.target.value)}
        />
      </Field>
      <Button type="submit" busy={busy}>
        Change it and end other sessions
      </Button>
    </form>
  );
}
