import { startRegistration } from '@simplewebauthn/browser';
import { useState } from 'react';
import type { FactorChange } from '../../../server/accounts/sign-in/own-factors.ts';
import type { SetUpInput } from '../../../server/accounts/sign-in/set-up-input.ts';
import type { RequestError } from '../../desk/request.ts';
import { Button } from '../../parts/Button.tsx';
import { CopyText } from '../../parts/CopyText.tsx';
import { Field } from '../../parts/Field.tsx';
import { passkeyFault } from './passkey-fault.ts';
import css from './SignIn.module.css';

/** What somebody sets up: the kinds that will do, and who takes what they show. */
interface SetUpFactorProps {
  readonly kinds: readonly ('code' | 'passkey')[];
  /** Sends a step; throws a RequestError. */
  readonly send: (input: SetUpInput) => Promise<FactorChange>;
  readonly onDone: (change: FactorChange) => void;
}

/** Sets up one-time codes or a passkey: a choice, what to do, and a proof that it works. */
export function SetUpFactor({ kinds, send, onDone }: SetUpFactorProps) {
  const [secret, setSecret] = useState<FactorChange['secret']>();
  const [error, setError] = useState('');
  const [busy, setBusy] = useState(false);
  const attempt = async (work: () => Promise<void>) => {
    setBusy(true);
    setError('');
    try {
      await work();
    } catch (e) {
      setError(passkeyFault(e) ?? faultWords(e as RequestError));
    } finally {
      setBusy(false);
    }
  };
  const passkey = () =>
    attempt(async () => {
      const { options } = await send({ do: 'passkey' });
      if (!options) return;
      const answer = await startRegistration({ optionsJSON: options });
      onDone(
        await send({
          ...{ do: 'keep passkey', name: deviceName() },
          answer: answer as never,
        }),
      );
    });
  if (secret)
    return (
      <CodeProof
        secret={secret}
        error={error}
        busy={busy}
        onCode={(code) => attempt(async () => onDone(await send({ do: 'keep code', code })))}
      />
    );
  return (
    <div className={css['ways']}>
      {kinds.includes('passkey') && (
        <Button kind="primary" busy={busy} onClick={() => void passkey()}>
          Set up a passkey
        </Button>
      )}
      {kinds.includes('code') && (
        <Button
          busy={busy}
          onClick={() => void attempt(async () => setSecret((await send({ do: 'code' })).secret))}
        >
          Set up one-time codes
        </Button>
      )}
      {error && <p role="alert">◆ {error}</p>}
    </div>
  );
}

function CodeProof({
  secret,
  error,
  busy,
  onCode,
}: {
  readonly secret: NonNullable<FactorChange['secret']>;
  readonly error: string;
  readonly busy: boolean;
  readonly onCode: (code: string) => Promise<void>;
}) {
  const [code, setCode] = useState('');
  return (
    <form
      className={css['steps']}
      onSubmit={(e) => {
        e.preventDefault();
        void onCode(code);
      }}
    >
      <p>Photograph this with an application for one-time codes, or type the secret into it.</p>
      <img className={css['picture']} src={secret.picture} alt="The secret, for an application to read" />
      <CopyText label="Secret" text={secret.secret} />
      <CodeField code={code} setCode={setCode} error={error} />
      <Button type="submit" kind="primary" busy={busy}>
        It shows this code
      </Button>
    </form>
  );
}

export function CodeField({
  code,
  setCode,
  error,
  label = 'The code that it shows now',
}: {
  readonly code: string;
  readonly setCode: (code: string) => void;
  readonly error: string;
  readonly label?: string;
}) {
  return (
    <Field label={label} error={error || undefined}>
      <input
        autoFocus
        required
        inputMode="numeric"
        autoComplete="one-time-code"
        maxLength={24}
        value={code}
        onChange={(e) => setCode(e.target.value)}
      />
    </Field>
  );
}

function faultWords(e: RequestError): string {
  return e.field('code') ? `${e.message} ${e.field('code') ?? ''}` : e.message;
}

/** As one tells one's passkeys apart: by where they were made. */
function deviceName(): string {
  const system = /Windows|Android|iPhone|iPad|Mac OS X|Linux/.exec(navigator.userAgent)?.[0];
  return system === undefined ? 'Passkey' : `Passkey of ${system === 'Mac OS X' ? 'macOS' : system}`;
}
