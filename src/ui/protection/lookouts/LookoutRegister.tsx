import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { lookoutLink } from '../links.ts';
import { useLookouts } from './use-lookouts.ts';

/** Our own first. */
function inGroups<T extends { readonly builtIn: boolean }>(all: readonly T[]): readonly T[] {
  return all.toSorted((a, b) => Number(a.builtIn) - Number(b.builtIn));
}

export function LookoutRegister({ chosen }: { readonly chosen: string | undefined }) {
  const lookouts = useLookouts();
  const mayWatch = useMay('protection.watch');
  if (lookouts.isError && !lookouts.data)
    return <Failure error={lookouts.error} onRetry={() => void lookouts.refetch()} />;
  return (
    <RegisterList
      what="lookouts"
      rows={inGroups(lookouts.data ?? []).map((l) => ({
        id: l.id,
        name: l.name,
        detail: `${l.severity} · ${l.raised === 0 ? 'nothing in 30 days' : `${countWords(l.raised, 'alert')} in 30 days`}`,
        tag: <StageTag state={l.stage.state} />,
        href: lookoutLink(l.id),
        group: l.builtIn ? 'Built in' : 'Our own',
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayWatch && <Button onClick={() => setQuery({ new: 'lookout' }, 'push')}>New</Button>}
      empty={lookouts.isPending ? 'Loading …' : 'Press New to say what is to be watched.'}
    />
  );
}
