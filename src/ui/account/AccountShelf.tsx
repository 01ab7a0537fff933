import { useMay } from '../desk/account-context.ts';
import { Shelf } from '../parts/Shelf.tsx';
import { INTERFACE, PROGRAMS, ROLES, SIGN_ON } from './links.ts';
import { isInForce, useTokens } from './programs/use-programs.ts';
import { useRoles } from './roles/use-roles.ts';
import { useAccounts } from './use-accounts.ts';

type Kind = 'people' | 'roles' | 'sign-on' | 'programs' | 'interface';

/** Who has an account here, what roles allow, and the programs that act for people. */
export function AccountShelf({ what }: { readonly what: Kind }) {
  const mayRead = useMay('accounts.read');
  const people = useAccounts(mayRead);
  const roles = useRoles(mayRead);
  const inForce = useTokens().data?.filter(isInForce).length;
  const entry = (of: Kind, name: string, href: string, count?: number) => ({
    ...{ name, href, count, chosen: what === of },
  });
  return (
    <Shelf
      entries={[
        entry('people', mayRead ? 'People' : 'You', '/account', people.data?.length),
        ...(mayRead
          ? [
              entry('roles', 'Roles', ROLES, roles.data?.roles.length),
              entry('sign-on', 'Signing in', SIGN_ON),
            ]
          : []),
        entry('programs', 'Programs', PROGRAMS, inForce),
        entry('interface', 'Interface', INTERFACE),
      ]}
    />
  );
}
