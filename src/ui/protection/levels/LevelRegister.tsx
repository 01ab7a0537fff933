import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { lensLink } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { levelLink } from '../links.ts';
import { useLevels, useProtectionShelf } from '../use-protection.ts';

export function LevelRegister({ chosen }: { readonly chosen: string | undefined }) {
  const levels = useLevels();
  const shelf = useProtectionShelf();
  const mayEdit = useMay('protection.edit');
  if (levels.isError && !levels.data)
    return <Failure error={levels.error} onRetry={() => void levels.refetch()} />;
  const unlevelled = shelf.data?.unlevelled ?? 0;
  return (
    <RegisterList
      what="levels"
      rows={(levels.data ?? []).map((l) => ({
        id: l.id,
        name: l.name,
        colour: l.colour,
        detail: countWords(l.items, 'item'),
        tag: l.stage.state === 'in force' ? undefined : <StageTag state={l.stage.state} />,
        href: levelLink(l.id),
        group: 'Strongest first',
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'level' }, 'push')}>New</Button>}
      empty={
        levels.isPending
          ? 'Loading …'
          : 'Press New to name the first; it is a draft until you put it in force.'
      }
      {...(unlevelled > 0 && levels.data?.length
        ? {
            footer: {
              name: `${countWords(unlevelled, 'item has', 'items have')} no level yet`,
              href: lensLink('level unknown'),
              chosen: false,
            },
          }
        : {})}
    />
  );
}
