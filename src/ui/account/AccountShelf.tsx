import { Shelf } from '../parts/Shelf.tsx';
import { ROLES } from './links.ts';
import { useAccounts } from './use-accounts.ts';
import { useRoles } from './roles/use-roles.ts';

/** Who has an account here, and what roles allow. */
export function AccountShelf({ what }: { readonly what: 'people' | 'roles' }) {
  const people = useAccounts();
  const roles = useRoles();
  return (
    <Shelf
      entries={[
        { name: 'People', count: people.data?.length, href: '/account', chosen: what === 'people' },
        { name: 'Roles', count: roles.data?.roles.length, href: ROLES, chosen: what === 'roles' },
      ]}
    />
  );
}
