import { request } from '../../desk/request.ts';
import { go } from '../../desk/location.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { useMay } from '../../desk/account-context.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { useShelfCounts } from '../HoldingsShelf.tsx';
import { useLens } from '../explorer/use-lens.ts';
import { lensLink } from '../links.ts';
import { useLenses } from './use-lenses.ts';

/** Lenses that were kept, and everything that was read. */
export function LensRegister() {
  const { line } = useLens();
  const lenses = useLenses();
  const { data: counts } = useShelfCounts();
  const mayKeep = useMay('holdings.judge');
  if (lenses.isError && !lenses.data)
    return <Failure error={lenses.error} onRetry={() => void lenses.refetch()} />;
  const kept = lenses.data ?? [];
  const chosen = kept.find((l) => l.line === line);
  const remove = () => {
    if (!chosen) return;
    request('DELETE', `/api/holdings/lenses/${chosen.id}`, {}).then(
      () =>
        tell(`“${chosen.name}” is let go. What it found is untouched.`, {
          undo: () =>
            request('POST', '/api/holdings/lenses', { name: chosen.name, lens: chosen.line }).then(
              () => undefined,
              tellFailure,
            ),
        }),
      tellFailure,
    );
  };
  return (
    <RegisterList
      what="lenses"
      rows={[
        {
          id: 'everything',
          name: 'Everything read',
          detail: counts ? countWords(counts.items, 'item') : '…',
          href: lensLink('everything'),
        },
        ...kept.map((l) => ({
          id: l.line,
          name: l.name,
          detail: l.faulty ? '◆ names something that is gone' : countWords(l.items, 'item'),
          href: lensLink(l.line),
        })),
      ]}
      chosen={line}
      onChoose={(r) => go(r.href)}
      action={mayKeep && chosen && <Button onClick={remove}>Let go</Button>}
      empty="Loading …"
    />
  );
}
