import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { namedGroupLink } from '../links.ts';
import { useNamedGroups } from './use-handling.ts';

export function GroupRegister({ chosen }: { readonly chosen: string | undefined }) {
  const groups = useNamedGroups();
  const mayEdit = useMay('protection.edit');
  if (groups.isError && !groups.data)
    return <Failure error={groups.error} onRetry={() => void groups.refetch()} />;
  return (
    <RegisterList
      what="groups"
      rows={(groups.data ?? []).map((g) => ({
        id: g.id,
        name: g.name,
        detail: `${g.kind} · ${countWords(g.members, 'member')}${g.ours ? ' · ours' : ''}`,
        href: namedGroupLink(g.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'group' }, 'push')}>New</Button>}
      empty={groups.isPending ? 'Loading …' : 'Press New to name destinations, drives or printers together.'}
    />
  );
}
