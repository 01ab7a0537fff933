import { useQuery } from '@tanstack/react-query';
import type * as accountsSessionsApi from '../../pages/api/accounts/sessions/index.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { request } from '../desk/request.ts';
import { setTheme, type Theme } from '../desk/theme.ts';
import { tell, tellFailure } from '../desk/toasts.ts';
import { whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import { PasswordForm } from './PasswordForm.tsx';
import css from './account.module.css';

const THEMES: readonly (readonly [Theme, string])[] = [
  ['system', 'As the system'],
  ['light', 'Light'],
  ['dark', 'Dark'],
];

export function OwnAccountSheet({ account }: { readonly account: Account }) {
  return (
    <div className={css['sheet']}>
      <SheetHead
        title={account.name}
        detail={[account.title, account.role, account.email].filter(Boolean).join(' · ')}
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
      <h2>Where you are signed in</h2>
      <Sessions />
      <h2>Password</h2>
      <PasswordForm email={account.email} />
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
            since {whenWords(s.startedAt)} · last used {whenWords(s.seenAt)} · from {s.address || 'unknown'}
          </span>
          {!s.current && <Button onClick={() => void end(s.id)}>End it</Button>}
        </li>
      ))}
    </ul>
  );
}
