import { useQuery } from '@tanstack/react-query';
import type * as accountsIdApi from '../../pages/api/accounts/[id]/index.ts';
import type * as accountsIdSessionsApi from '../../pages/api/accounts/[id]/sessions.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import { WAY_WORDS } from '../../core/accounts/sign-in/way.ts';
import { isOfficer, roleWords } from '../../core/accounts/roles/held-role.ts';
import { useMay } from '../desk/account-context.ts';
import { request } from '../desk/request.ts';
import { tell, tellFailure } from '../desk/toasts.ts';
import { countWords, whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import { RolesSentence } from './roles/RolesSentence.tsx';
import { SignsInBy } from './sign-on/SignsInBy.tsx';
import { ScopeSentence } from './ScopeSentence.tsx';
import css from './account.module.css';

/** Somebody else's account: where they are signed in, and what to do when a person leaves or a laptop is lost. */
export function PersonSheet({ id }: { readonly id: number }) {
  const mayEdit = useMay('accounts.edit');
  const person = useQuery({
    queryKey: ['account', id],
    queryFn: () => request<AnswerOf<typeof accountsIdApi.GET>>('GET', `/api/accounts/${id}`),
  });
  if (person.isError && !person.data)
    return <Failure error={person.error} onRetry={() => void person.refetch()} />;
  if (!person.data) return <Loading what="the account" />;
  const { name, title, roles, email, disabledAt, sessions } = person.data;
  const setDisabled = async (disabled: boolean) => {
    try {
      await request('PATCH', `/api/accounts/${id}`, { disabled });
      tell(disabled ? `${name} cannot sign in any more.` : `${name} can sign in again.`, {
        undo: disabled ? () => setDisabled(false) : undefined,
      });
    } catch (e) {
      tellFailure(e);
    }
  };
  const endSessions = async () => {
    try {
      const { ended } = await request<AnswerOf<typeof accountsIdSessionsApi.DELETE>>(
        'DELETE',
        `/api/accounts/${id}/sessions`,
      );
      tell(`${countWords(ended, 'session')} of ${name} ended.`);
    } catch (e) {
      tellFailure(e);
    }
  };
  return (
    <div className={css['sheet']}>
      <SheetHead
        title={name}
        detail={[title, roleWords({ roles }), email, disabledAt && `disabled ${whenWords(disabledAt)}`]
          .filter(Boolean)
          .join(' · ')}
        actions={
          mayEdit &&
          (disabledAt ? (
            <Button onClick={() => void setDisabled(false)}>Let them sign in again</Button>
          ) : (
            <Button onClick={() => void setDisabled(true)}>Disable this account</Button>
          ))
        }
      />
      <h2>What they may do</h2>
      <RolesSentence id={id} name={name} />
      {!isOfficer({ roles }) && (
        <>
          <h2>What they look after</h2>
          <ScopeSentence id={id} name={name} />
        </>
      )}
      <h2>How they sign in</h2>
      <SignsInBy id={id} name={name} by={person.data} />
      <h2>Where they are signed in</h2>
      {sessions.length === 0 ? (
        <p className={css['dim']}>Nowhere now.</p>
      ) : (
        <>
          <ul className={css['sessions']}>
            {sessions.map((s) => (
              <li key={`${s.startedAt} ${s.browser}`}>
                <b>{s.browser}</b>
                <span className={css['dim']}>
                  by {WAY_WORDS[s.way]} since {whenWords(s.startedAt)} · last used {whenWords(s.seenAt)} ·
                  from {s.address || 'unknown'}
                </span>
              </li>
            ))}
          </ul>
          {mayEdit && (
            <div className={css['row']}>
              <Button onClick={() => void endSessions()}>End all of their sessions</Button>
            </div>
          )}
        </>
      )}
      {mayEdit && person.data.hasPassword && (
        <p className={css['note']}>
          A forgotten password is reset by whoever runs the server: <code>./yare reset-password {email}</code>
        </p>
      )}
    </div>
  );
}
