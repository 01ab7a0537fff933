import { useMemo } from 'react';
import { may, type Account } from '../../core/accounts/authority.ts';
import { roleWords } from '../../core/accounts/roles/held-role.ts';
import type { ListedAccount } from '../../server/accounts/account.ts';
import { Desk } from '../desk/Desk.tsx';
import { newKey, type Key } from '../desk/keys.ts';
import { go, useDeskLocation } from '../desk/location.ts';
import { whenWords } from '../desk/words.ts';
import { RegisterList } from '../parts/RegisterList.tsx';
import { Failure, Loading } from '../parts/states.tsx';
import { AccountShelf } from './AccountShelf.tsx';
import { InterfaceSheet } from './interface/InterfaceSheet.tsx';
import { personLink } from './links.ts';
import { OwnAccountSheet } from './OwnAccountSheet.tsx';
import { HookSheet } from './programs/HookSheet.tsx';
import { ProgramsSheet } from './programs/ProgramsSheet.tsx';
import { PersonSheet } from './PersonSheet.tsx';
import { NewRole } from './roles/NewRole.tsx';
import { RoleRegister } from './roles/RoleRegister.tsx';
import { RolesOverview } from './roles/RolesOverview.tsx';
import { RoleSheet } from './roles/RoleSheet.tsx';
import { RoleSoundings } from './roles/RoleSoundings.tsx';
import { PolicySoundings } from './sign-on/PolicySoundings.tsx';
import { ProviderSheet } from './sign-on/ProviderSheet.tsx';
import { SignOnSheet } from './sign-on/SignOnSheet.tsx';
import { useAccounts } from './use-accounts.ts';

const NO_KEYS: readonly Key[] = [];

/** One's own account; for those who look after accounts, everyone's, and what roles allow. */
export function AccountArea({ account }: { readonly account: Account }) {
  const { path, query } = useDeskLocation();
  const mayRead = may(account, 'accounts.read');
  const inRoles = mayRead && path[0] === 'roles';
  const keys = useMemo(
    () => (inRoles && may(account, 'accounts.roles') ? newKey('New role', 'role') : []),
    [account, inRoles],
  );
  const programKeys = useMemo(
    () => (may(account, 'tokens.edit') ? newKey('New token', 'token') : NO_KEYS),
    [account],
  );
  if (inRoles) {
    const id = path[1];
    return (
      <Desk
        account={account}
        area="account"
        keys={keys}
        register={
          <>
            <AccountShelf what="roles" />
            <RoleRegister chosen={id} />
          </>
        }
        sheet={
          <>
            {id ? <RoleSheet key={id} id={id} /> : <RolesOverview />}
            {query.get('new') === 'role' && <NewRole from={query.get('from')} />}
          </>
        }
        soundings={id ? <RoleSoundings key={id} id={id} /> : undefined}
      />
    );
  }
  if (mayRead && path[0] === 'sign-on')
    return <SigningIn account={account} provider={path[1] === undefined ? undefined : Number(path[1])} />;
  if (path[0] === 'programs' || path[0] === 'interface')
    return (
      <Desk
        account={account}
        area="account"
        keys={path[0] === 'programs' ? programKeys : NO_KEYS}
        register={<AccountShelf what={path[0]} />}
        sheet={
          path[0] === 'interface' ? (
            <InterfaceSheet />
          ) : path[1] === 'hooks' ? (
            <HookSheet key={path[2]} id={Number(path[2])} />
          ) : (
            <ProgramsSheet account={account} />
          )
        }
      />
    );
  const chosen = Number(path[0] ?? account.id);
  return (
    <Desk
      account={account}
      area="account"
      register={
        <>
          <AccountShelf what="people" />
          {mayRead && <People me={account} chosen={chosen} />}
        </>
      }
      sheet={chosen === account.id ? <OwnAccountSheet account={account} /> : <PersonSheet id={chosen} />}
    />
  );
}

function SigningIn({
  account,
  provider,
}: {
  readonly account: Account;
  readonly provider: number | undefined;
}) {
  return (
    <Desk
      account={account}
      area="account"
      register={<AccountShelf what="sign-on" />}
      sheet={provider === undefined ? <SignOnSheet /> : <ProviderSheet key={provider} id={provider} />}
      soundings={provider === undefined ? <PolicySoundings /> : undefined}
    />
  );
}

function People({ me, chosen }: { readonly me: Account; readonly chosen: number }) {
  const people = useAccounts();
  if (people.isError && !people.data)
    return <Failure error={people.error} onRetry={() => void people.refetch()} />;
  if (!people.data) return <Loading what="accounts" />;
  return (
    <RegisterList
      what="accounts"
      rows={people.data.map((p) => ({
        id: String(p.id),
        name: p.name,
        detail: `${p.id === me.id ? 'you · ' : ''}${roleWords(p)} · ${hereWords(p)}`,
        href: p.id === me.id ? '/account' : personLink(p.id),
      }))}
      chosen={String(chosen)}
      onChoose={(r) => go(r.href)}
      empty="Nobody has an account yet."
    />
  );
}

function hereWords({ disabledAt, seenAt }: ListedAccount): string {
  if (disabledAt) return 'disabled';
  return seenAt ? `here ${whenWords(seenAt)}` : 'not signed in';
}
