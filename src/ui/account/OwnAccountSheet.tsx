import { useQuery } from '@tanstack/react-query';
import type * as languageApi from '../../pages/api/accounts/language.ts';
import type * as accountsSessionsApi from '../../pages/api/accounts/sessions/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { roleWords } from '../../core/accounts/roles/held-role.ts';
import { WAY_WORDS } from '../../core/accounts/sign-in/way.ts';
import { LETTER_LANGUAGES } from '../../core/outbox/letter.ts';
import { useMay } from '../desk/account-context.ts';
import { request } from '../desk/request.ts';
import { setTheme, type Theme } from '../desk/theme.ts';
import { tell, tellFailure } from '../desk/toasts.ts';
import { whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { Segments } from '../parts/Segments.tsx';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import { RolesSentence } from './roles/RolesSentence.tsx';
import { OwnFactors } from './sign-in/OwnFactors.tsx';
import { useFactors } from './sign-in/use-sign-in.ts';
import { PasswordForm } from './PasswordForm.tsx';
import css from './account.module.css';

const THEMES: readonly (readonly [Theme, string])[] = [
  ['system', 'As the system'],
  ['light', 'Light'],
  ['dark', 'Dark'],
];

export function OwnAccountSheet({ account }: { readonly account: Account }) {
  const maySeeRoles = useMay('accounts.read');
  return (
    <div className={css['sheet']}>
      <SheetHead
        title={account.name}
        detail={[account.title, roleWords(account), account.email].filter(Boolean).join(' · ')}
        actions={
          <Button
            onClick={() =>
              void request('POST', '/api/accounts/sign-out').finally(() => location.assign('/sign-in'))
            }
          >
            Sign out
          </Button>
        }
      />
      {maySeeRoles && (
        <>
          <h2>What you may do</h2>
          <RolesSentence id={account.id} name={account.name} />
        </>
      )}
      <h2>How you sign in</h2>
      <OwnFactors />
      <h2>Where you are signed in</h2>
      <Sessions />
      <OwnPassword email={account.email} />
      <h2>Letters</h2>
      <Letters />
      <h2>Colours</h2>
      <div className={css['row']}>
        {THEMES.map(([theme, words]) => (
          <Button key={theme} onClick={() => setTheme(theme)}>
            {words}
          </Button>
        ))}
      </div>
    </div>
  );
}

/** Whoever signs on by the word of a provider has none to change. */
function OwnPassword({ email }: { readonly email: string }) {
  if (!useFactors().data?.hasPassword) return null;
  return (
    <>
      <h2>Password</h2>
      <PasswordForm email={email} />
    </>
  );
}

function Letters() {
  const chosen = useQuery({
    queryKey: ['letter-language'],
    queryFn: () => request<AnswerOf<typeof languageApi.GET>>('GET', '/api/accounts/language'),
  });
  if (chosen.isError) return <Failure error={chosen.error} onRetry={() => void chosen.refetch()} />;
  if (!chosen.data) return <Loading what="the language of letters" />;
  const choose = async (language: string) => {
    try {
      await request('PUT', '/api/accounts/language', { language });
      tell('Letters come in it from now on.');
      await chosen.refetch();
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <p>
      What needs you also comes by mail, in{' '}
      <Segments
        label="Language of letters"
        value={chosen.data.language}
        options={Object.entries(LETTER_LANGUAGES).map(([value, words]) => ({ value, words }))}
        onChange={(language) => void choose(language)}
      />
    </p>
  );
}

function Sessions() {
  const sessions = useQuery({
    queryKey: ['sessions'],
    queryFn: () => request<AnswerOf<typeof accountsSessionsApi.GET>>('GET', '/api/accounts/sessions'),
  });
  if (sessions.isError) return <Failure error={sessions.error} onRetry={() => void sessions.refetch()} />;
  if (!sessions.data) return <Loading what="sessions" />;
  const end = async (id: string) => {
    try {
      await request('DELETE', `/api/accounts/sessions/${id}`);
      tell('That session is over.');
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <ul className={css['sessions']}>
      {sessions.data.map((s) => (
        <li key={s.id}>
          <span>
            <b>{s.browser}</b>
            {s.current && ' · this one'}
          </span>
          <span className={css['dim']}>
            by {WAY_WORDS[s.way]} since {whenWords(s.startedAt)} · last used {whenWords(s.seenAt)} · from{' '}
            {s.address || 'unknown'}
          </span>
          {!s.current && <Button onClick={() => void end(s.id)}>End it</Button>}
        </li>
      ))}
    </ul>
  );
}
