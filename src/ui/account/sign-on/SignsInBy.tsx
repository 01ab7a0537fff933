import { useState } from 'react';
import type { signsInBy } from '../../../server/accounts/sign-on/signs-in-by.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, dayWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RemoveDialog } from '../../parts/RemoveDialog.tsx';
import { useRoles } from '../roles/use-roles.ts';
import { providerLink } from '../links.ts';
import css from '../account.module.css';

interface Props {
  readonly id: number;
  readonly name: string;
  readonly by: Awaited<ReturnType<typeof signsInBy>>;
}

/** How somebody else signs in, and what to do when they lost what they do it with. */
export function SignsInBy({ id, name, by }: Props) {
  const mayEdit = useMay('accounts.edit');
  const [asks, setAsks] = useState(false);
  const { passkeys, code } = by.factors;
  const has = passkeys.length > 0 || code !== null;
  return (
    <>
      <ul className={css['sessions']}>
        {by.identities.map((i) => (
          <li key={i.provider}>
            <b>
              Sign-on with <a href={providerLink(i.provider)}>{i.name}</a>
            </b>
            <span className={css['dim']}>
              since {dayWords(i.linkedAt)} · last {whenWords(i.seenAt)}
              {i.kept && ' · it keeps this account'}
            </span>
          </li>
        ))}
        <li>
          <b>{by.hasPassword ? 'Password' : 'No password'}</b>
          <span className={css['dim']}>
            {has
              ? `and ${[passkeys.length > 0 && countWords(passkeys.length, 'passkey'), code && 'one-time codes'].filter(Boolean).join(', ')} · ${countWords(by.factors.recovery, 'recovery code')} left`
              : by.hasPassword
                ? 'without a second factor'
                : 'sign-on alone'}
          </span>
          {mayEdit && has && <Button onClick={() => setAsks(true)}>They lost their second factor …</Button>}
        </li>
      </ul>
      {asks && (
        <RemoveDialog
          name={`the second factors of ${name}`}
          verb="Take away"
          lost="Their passkeys, one-time codes and recovery codes are gone and their sessions end; they are told by mail, and set up a new one as they sign in where their role asks for it. See first that it is them who asks."
          onClose={() => setAsks(false)}
          onRemove={async () => {
            const { taken } = await request<{ taken: number }>('DELETE', `/api/accounts/${id}/factors`);
            setAsks(false);
            tell(`${countWords(taken, 'second factor')} of ${name} taken away.`);
          }}
        />
      )}
      <ByGroups told={by.byGroups} />
    </>
  );
}

function ByGroups({ told }: { readonly told: Props['by']['byGroups'] }) {
  const roles = useRoles().data?.roles ?? [];
  if (told.length === 0) return null;
  return (
    <ul className={css['told']}>
      {told.map((t) => (
        <li key={t.role}>
          <b>{roles.find((r) => r.id === t.role)?.name ?? t.role}</b> by {t.groups.join(', ')}
        </li>
      ))}
    </ul>
  );
}
