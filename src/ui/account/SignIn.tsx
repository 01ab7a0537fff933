import { useState } from 'react';
import { placeAfterSignIn } from '../desk/place-after-sign-in.ts';
import { OTHER_SESSIONS } from '../desk/other-sessions.ts';
import { request, RequestError } from '../desk/request.ts';
import { Button } from '../parts/Button.tsx';
import { Field } from '../parts/Field.tsx';
import css from './SignIn.module.css';

export function SignIn() {
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const [error, setError] = useState<RequestError | undefined>();
  const [busy, setBusy] = useState(false);
  const submit = async () => {
    setBusy(true);
    setError(undefined);
    try {
      const { others } = await request<{ others: number }>('POST', '/api/accounts/sign-in', {
        email,
        password,
      });
      if (others > 0) sessionStorage.setItem(OTHER_SESSIONS, String(others));
      location.assign(placeAfterSignIn(location.search, location.origin));
    } catch (e) {
      setError(e as RequestError);
      setBusy(false);
    }
  };
  return (
    <main className={css['page']}>
      <form
        className={css['form']}
        onSubmit={(e) => {
          e.preventDefault();
          void submit();
        }}
      >
        <h1>Yare Warden</h1>
        <p className={css['dim']}>Sign in to the desk of your organisation.</p>
        <Field label="E-mail" error={error?.field('email')}>
          <input
            type="email"
            autoComplete="username"
            autoFocus
            required
            value={email}
            onChange={(e) => setEmail(e.target.value)}
          />
        </Field>
        <Field
          label="Password"
          error={
            error
              ? error.field('password')
                ? `${error.message} ${error.field('password') ?? ''}`
                : error.message
              : undefined
          }
        >
          <input
            type="password"
            autoComplete="current-password"
            required
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
        </Field>
        <Button type="submit" kind="primary" busy={busy}>
          Sign in
        </Button>
      </form>
    </main>
  );
}
