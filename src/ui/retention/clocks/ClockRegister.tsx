import { CLOCK_WAYS } from '../../../core/retention/clock/clock-content.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { clockLink } from '../links.ts';
import { useClocks } from '../use-retention.ts';

export function ClockRegister({ chosen }: { readonly chosen: string | undefined }) {
  const clocks = useClocks();
  const mayEdit = useMay('retention.edit');
  if (clocks.isError && !clocks.data)
    return <Failure error={clocks.error} onRetry={() => void clocks.refetch()} />;
  return (
    <RegisterList
      what="clocks"
      rows={(clocks.data ?? []).map((c) => ({
        id: String(c.id),
        name: c.name,
        detail:
          c.problem === ''
            ? `${CLOCK_WAYS[c.way]} · known of ${countWords(c.known, 'item')}`
            : `◆ not read: ${c.problem}`,
        href: clockLink(c.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'clock' }, 'push')}>New</Button>}
      empty={
        clocks.isPending ? 'Loading …' : 'Press New to count from an event, such as the arrival of a sailing.'
      }
    />
  );
}
