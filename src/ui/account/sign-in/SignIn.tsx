import { startAuthentication } from '@simplewebauthn/browser';
import { useState } from 'react';
import type { FactorChange } from '../../../server/accounts/sign-in/own-factors.ts';
import type { Next } from '../../../server/accounts/sign-in/sign-in.ts';
import { OTHER_SESSIONS } from '../../desk/other-sessions.ts';
import { placeAfterSignIn } from '../../desk/place-after-sign-in.ts';
import { request, RequestError } from '../../desk/request.ts';
import { Button } from '../../parts/Button.tsx';
import { Field } from '../../parts/Field.tsx';
import { passkeyFault } from './passkey-fault.ts';
import { RecoveryCodes } from './RecoveryCodes.tsx';
import { CodeField, SetUpFactor } from './SetUpFactor.tsx';
import css from './SignIn.module.css';

type SignedIn = { readonly others: number; readonly recovery?: readonly string[] };
type Answer = SignedIn | Next;
type PasskeyOptions = Parameters<typeof startAuthentication>[0]['optionsJSON'];

interface SignInProps {
  readonly providers: readonly { readonly id: number; readonly name: string }[];
  /** Whether this desk has a name that passkeys can belong to. */
  readonly passkeys: boolean;
}

/** Signing in, a step after the other: what one has, then what is asked besides. */
export function SignIn({ providers, passkeys }: SignInProps) {
  const [next, setNext] = useState<Next | undefined>();
  const [recovery, setRecovery] = useState<readonly string[]>([]);
  const goOn = () => location.assign(placeAfterSignIn(location.search, location.origin));
  const come = (answer: Answer) => {
    if ('asks' in answer) {
      setNext(answer);
      return;
    }
    if (answer.others > 0) sessionStorage.setItem(OTHER_SESSIONS, String(answer.others));
    if (answer.recovery?.length) setRecovery(answer.recovery);
    else goOn();
  };
  return (
    <main className={css['page']}>
      <div className={css['form']}>
        <h1>Yare Warden</h1>
        {recovery.length > 0 ? (
          <>
            <RecoveryCodes codes={recovery} />
            <Button kind="primary" onClick={goOn}>
              They are kept: go on
            </Button>
          </>
        ) : next?.asks === 'factor' ? (
          <FactorStep next={next} come={come} />
        ) : next?.asks === 'set up' ? (
          <SetUpStep next={next} come={come} />
        ) : (
          <PasswordStep providers={providers} passkeys={passkeys} come={come} />
        )}
        {next && recovery.length === 0 && (
          <Button kind="quiet" onClick={() => setNext(undefined)}>
            Begin again
          </Button>
        )}
      </div>
    </main>
  );
}

/** One thing under way, and what became of the one before. */
function useAttempt() {
  const [error, setError] = useState<RequestError | undefined>();
  const [fault, setFault] = useState('');
  const [busy, setBusy] = useState(false);
  const attempt = async (work: () => Promise<void>) => {
    setBusy(true);
    setError(undefined);
    setFault('');
    try {
      await work();
    } catch (e) {
      if (e instanceof RequestError) setError(e);
      else setFault(passkeyFault(e) ?? 'Something went wrong in this browser. Try again.');
      setBusy(false);
    }
  };
  return { error, fault, busy, attempt };
}

function PasswordStep({ providers, passkeys, come }: SignInProps & { readonly come: (a: Answer) => void }) {
  const [email, setEmail] = useState('');
  const [password, setPassword] = useState('');
  const { error, fault, busy, attempt } = useAttempt();
  const byPasskey = () =>
    attempt(async () => {
      const path = '/api/accounts/sign-in/passkey';
      const { options } = await request<{ options: PasskeyOptions }>('POST', path, {});
      come(await request('POST', path, { passkey: await startAuthentication({ optionsJSON: options }) }));
    });
  return (
    <>
      <p className={css['dim']}>Sign in to the desk of your organisation.</p>
      <form
        className={css['steps']}
        onSubmit={(e) => {
          e.preventDefault();
          void attempt(async () =>
            come(await request<Answer>('POST', '/api/accounts/sign-in', { email, password })),
          );
        }}
      >
        <Field label="E-mail" error={error?.field('password') ? undefined : error?.field('email')}>
          <input
            type="email"
            autoComplete="username"
            autoFocus
            required
            value={email}
            onChange={(e) => setEmail(e.target.value)}
          />
        </Field>
        <Field label="Password" error={passwordFault(error)}>
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
      {(passkeys || providers.length > 0) && (
        <div className={css['ways']}>
          {passkeys && (
            <Button onClick={() => void byPasskey()} disabled={busy}>
              Use a passkey
            </Button>
          )}
          {providers.map((p) => (
            <a key={p.id} className={css['provider']} href={signOnLink(p.id, location.search)}>
              Sign on with {p.name}
            </a>
          ))}
          {fault && <p role="alert">◆ {fault}</p>}
        </div>
      )}
    </>
  );
}

function passwordFault(error: RequestError | undefined): string | undefined {
  if (!error) return undefined;
  const said = error.field('password');
  return said === undefined ? error.message : `${error.message} ${said}`;
}

function signOnLink(provider: number, search: string): string {
  const to = new URLSearchParams(search).get('to');
  return `/sign-on/start?${new URLSearchParams({ provider: String(provider), ...(to === null ? {} : { to }) }).toString()}`;
}

function FactorStep({
  next,
  come,
}: {
  readonly next: Extract<Next, { asks: 'factor' }>;
  readonly come: (answer: Answer) => void;
}) {
  const [code, setCode] = useState('');
  const { error, fault, busy, attempt } = useAttempt();
  const send = (shown: object) => request<Answer>('POST', '/api/accounts/sign-in/factor', shown);
  const { passkey } = next;
  const said = error ? [error.message, error.field('code')].filter(Boolean).join(' ') : fault;
  return (
    <>
      <p className={css['dim']}>The password is right. Now your second factor.</p>
      {passkey && (
        <Button
          kind="primary"
          autoFocus
          disabled={busy}
          onClick={() =>
            void attempt(async () =>
              come(
                await send({
                  passkey: await startAuthentication({ optionsJSON: passkey as PasskeyOptions }),
                }),
              ),
            )
          }
        >
          Use your passkey
        </Button>
      )}
      <form
        className={css['steps']}
        onSubmit={(e) => {
          e.preventDefault();
          void attempt(async () => come(await send({ code })));
        }}
      >
        <CodeField
          code={code}
          setCode={setCode}
          error={said}
          label={next.code ? 'One-time code, or a recovery code' : 'Recovery code'}
        />
        <Button type="submit" kind={passkey ? 'plain' : 'primary'} busy={busy}>
          Go on
        </Button>
      </form>
    </>
  );
}

function SetUpStep({
  next,
  come,
}: {
  readonly next: Extract<Next, { asks: 'set up' }>;
  readonly come: (answer: Answer) => void;
}) {
  const kinds = [
    ...(next.passkeys ? (['passkey'] as const) : []),
    ...(next.least === 'passkey' ? [] : (['code'] as const)),
  ];
  return (
    <>
      <p>
        {next.because} signs in with{' '}
        {next.least === 'passkey' ? 'a passkey' : 'a second factor besides the password'}. Set it up now; it
        takes a minute.
      </p>
      {kinds.length === 0 && (
        <p role="alert">
          ◆ This desk is reached by a number, and passkeys belong to a name. Ask whoever runs it.
        </p>
      )}
      <SetUpFactor
        kinds={kinds}
        send={(input) => request('POST', '/api/accounts/sign-in/set-up', input)}
        onDone={(change) => come(change as FactorChange & Answer)}
      />
    </>
  );
}
