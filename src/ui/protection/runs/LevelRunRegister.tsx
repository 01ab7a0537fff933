import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { dayWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { levelRunLink } from '../links.ts';
import { useLevelRuns } from '../use-protection.ts';
import { levelRunStateWords } from './run-words.ts';

export function LevelRunRegister({ chosen }: { readonly chosen: string | undefined }) {
  const runs = useLevelRuns();
  const mayRun = useMay('protection.run');
  if (runs.isError && !runs.data) return <Failure error={runs.error} onRetry={() => void runs.refetch()} />;
  return (
    <RegisterList
      what="runs"
      rows={(runs.data ?? []).map((r) => ({
        id: r.id,
        name: r.title,
        detail: [
          levelRunStateWords(r.state, r.mode),
          r.state === 'done' && r.outcome ? `${numberWords(r.outcome['items'] ?? 0)} items` : '',
          dayWords(r.endedAt ?? r.createdAt),
        ]
          .filter(Boolean)
          .join(' · '),
        href: levelRunLink(r.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayRun && <Button onClick={() => setQuery({ new: 'run' }, 'push')}>New</Button>}
      empty={
        runs.isPending ? 'Loading …' : 'Press New to set levels over what is held; it is estimated first.'
      }
    />
  );
}
