import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { roleLink } from '../links.ts';
import { useRoles } from './use-roles.ts';

export function RoleRegister({ chosen }: { readonly chosen: string | undefined }) {
  const roles = useRoles();
  const mayMake = useMay('accounts.roles');
  if (roles.isError && !roles.data)
    return <Failure error={roles.error} onRetry={() => void roles.refetch()} />;
  if (!roles.data) return <Loading what="roles" />;
  return (
    <RegisterList
      what="roles"
      rows={roles.data.roles.map((r) => ({
        id: r.id,
        name: r.name,
        detail: `${r.holders === 0 ? 'nobody' : countWords(r.holders, 'person', 'people')} · ${countWords(r.allows, 'permission')}`,
        tag: r.own ? <StageTag state={r.state} /> : undefined,
        href: roleLink(r.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayMake && <Button onClick={() => setQuery({ new: 'role' }, 'push')}>New</Button>}
      empty="No roles."
    />
  );
}
