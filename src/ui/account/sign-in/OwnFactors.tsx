import { useState } from 'react';
import { OWN_WAY_WORDS } from '../../../core/accounts/sign-in/way.ts';
import type { FactorChange, OwnFactorInput } from '../../../server/accounts/sign-in/own-factors.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, dayWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { Dialog } from '../../parts/Dialog.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { RecoveryCodes } from './RecoveryCodes.tsx';
import { SetUpFactor } from './SetUpFactor.tsx';
import { useFactors } from './use-sign-in.ts';
import css from '../account.module.css';

/** What is about to be done, once it is sure that it is them. */
type Act =
  | { readonly do: 'set up' }
  | { readonly do: 'recovery' }
  | { readonly do: 'drop code' }
  | { readonly do: 'drop passkey'; readonly passkey: number; readonly name: string };

const send = (input: OwnFactorInput) => request<FactorChange>('POST', '/api/accounts/factors', input);

/** What one signs in with besides a password: passkeys, one-time codes, recovery codes. */
export function OwnFactors() {
  const factors = useFactors();
  const [act, setAct] = useState<Act | undefined>();
  if (factors.isError && !factors.data)
    return <Failure error={factors.error} onRetry={() => void factors.refetch()} />;
  if (!factors.data) return <Loading what="how you sign in" />;
  const { passkeys, code, recovery, hasPassword, demand } = factors.data;
  const none = passkeys.length === 0 && !code;
  const close = () => {
    setAct(undefined);
    void factors.refetch();
  };
  return (
    <>
      <p className={css['quiet']}>
        {demand.own === 'none'
          ? 'You sign in through sign-on alone.'
          : `The least that will do for you is ${OWN_WAY_WORDS[demand.own]}${demand.signOn ? ', or sign-on' : ''}.`}
      </p>
      <ul className={css['sessions']}>
        {passkeys.map((p) => (
          <li key={p.id}>
            <b>{p.name}</b>
            <span className={css['dim']}>
              since {dayWords(p.madeAt)} · {p.usedAt ? `last used ${whenWords(p.usedAt)}` : 'never used'}
              {p.synced && ' · on more than one device'}
            </span>
            <Button
              aria-label={`Take away ${p.name}`}
              onClick={() => setAct({ do: 'drop passkey', passkey: p.id, name: p.name })}
            >
              Take it away
            </Button>
          </li>
        ))}
        {code && (
          <li>
            <b>One-time codes</b>
            <span className={css['dim']}>
              since {dayWords(code.madeAt)} ·{' '}
              {code.usedAt ? `last used ${whenWords(code.usedAt)}` : 'never used'}
            </span>
            <Button aria-label="Take away one-time codes" onClick={() => setAct({ do: 'drop code' })}>
              Take them away
            </Button>
          </li>
        )}
        {!none && (
          <li>
            <b>{recovery <= 2 ? '◆ ' : ''}Recovery codes</b>
            <span className={css['dim']}>{countWords(recovery, 'code')} not used yet</span>
            <Button onClick={() => setAct({ do: 'recovery' })}>Make new ones</Button>
          </li>
        )}
      </ul>
      {none && (
        <p className={css['quiet']}>
          {hasPassword
            ? 'A password alone lets you in. A second factor is asked of you from the moment you set one up.'
            : 'The word of your provider lets you in; you have no password here.'}
        </p>
      )}
      <div className={css['row']}>
        <Button onClick={() => setAct({ do: 'set up' })}>
          {none ? 'Set up a second factor' : 'Set up another'}
        </Button>
      </div>
      {act && <ActDialog act={act} hasPassword={hasPassword} hasCode={code !== null} onClose={close} />}
    </>
  );
}

function ActDialog({
  act,
  hasPassword,
  hasCode,
  onClose,
}: {
  readonly act: Act;
  readonly hasPassword: boolean;
  readonly hasCode: boolean;
  readonly onClose: () => void;
}) {
  const [password, setPassword] = useState('');
  const [proved, setProved] = useState(!hasPassword);
  const [codes, setCodes] = useState<readonly string[]>([]);
  const { busy, refused, error, send: sending } = useSending();
  const done = ({ recovery }: FactorChange) => {
    if (recovery?.length) {
      setCodes(recovery);
      return;
    }
    tell(act.do === 'set up' ? 'It is asked of you from now on.' : 'It lets nobody in any more.');
    onClose();
  };
  if (codes.length > 0)
    return (
      <DialogForm title="Recovery codes" act="They are kept" onClose={onClose} onSubmit={onClose}>
        <RecoveryCodes codes={codes} />
      </DialogForm>
    );
  if (act.do === 'set up' && proved)
    return (
      <Dialog title="Set up a second factor" onClose={onClose}>
        <SetUpFactor
          kinds={hasCode ? ['passkey'] : ['passkey', 'code']}
          send={(input) =>
            send(input.do === 'code' || input.do === 'passkey' ? { ...input, password } : input)
          }
          onDone={done}
        />
      </Dialog>
    );
  const go = async () => {
    if (act.do === 'set up') {
      setProved(true);
      return;
    }
    const { do: what } = act;
    done(
      await send(
        what === 'drop passkey' ? { do: what, passkey: act.passkey, password } : { do: what, password },
      ),
    );
  };
  return (
    <DialogForm
      title={TITLES[act.do]}
      act={act.do === 'set up' ? 'Go on' : act.do === 'recovery' ? 'Make them' : 'Take it away'}
      busy={busy}
      refused={error('password') ? undefined : refusedWords(refused)}
      onClose={onClose}
      onSubmit={() => sending(go)}
    >
      <p>{ABOUT[act.do]}</p>
      {hasPassword && (
        <Field label="Your password" error={error('password')}>
          <input
            type="password"
            autoFocus
            required
            autoComplete="current-password"
            value={password}
            onChange={(e) => setPassword(e.target.value)}
          />
        </Field>
      )}
    </DialogForm>
  );
}

function refusedWords(refused: { message: string; field: (n: string) => string | undefined } | undefined) {
  return refused && [refused.message, refused.field('do')].filter(Boolean).join(' ');
}

const TITLES: Readonly<Record<Act['do'], string>> = {
  'set up': 'Set up a second factor',
  recovery: 'New recovery codes',
  'drop code': 'Take one-time codes away?',
  'drop passkey': 'Take this passkey away?',
};
const ABOUT: Readonly<Record<Act['do'], string>> = {
  'set up': 'It is asked of you each time you sign in, from then on.',
  recovery: 'Those you had are good for nothing from then on.',
  'drop code': 'The application that shows them lets you in no more.',
  'drop passkey': 'It lets you in no more; take it from the device, too.',
};
