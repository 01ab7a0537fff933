import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { publicationLink } from '../links.ts';
import { useLevels } from '../use-protection.ts';
import { usePublications } from '../use-publishing.ts';

export function PublicationRegister({ chosen }: { readonly chosen: string | undefined }) {
  const publications = usePublications();
  const levels = useLevels();
  const mayEdit = useMay('protection.edit');
  if (publications.isError && !publications.data)
    return <Failure error={publications.error} onRetry={() => void publications.refetch()} />;
  const nameOf = (id: string) => levels.data?.find((l) => l.id === id)?.name ?? id;
  return (
    <RegisterList
      what="publications"
      rows={(publications.data ?? []).map((p) => ({
        id: p.id,
        name: p.name,
        detail: p.levels.map(nameOf).join(', ') || 'no level yet',
        tag: <StageTag state={p.stage.state} />,
        href: publicationLink(p.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'publication' }, 'push')}>New</Button>}
      empty={publications.isPending ? 'Loading …' : 'Press New to say who may choose which levels.'}
    />
  );
}
