import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { holdLink } from '../links.ts';
import { useHolds } from '../use-retention.ts';

export function HoldRegister({ chosen }: { readonly chosen: string | undefined }) {
  const holds = useHolds();
  const mayHold = useMay('retention.hold');
  if (holds.isError && !holds.data)
    return <Failure error={holds.error} onRetry={() => void holds.refetch()} />;
  return (
    <RegisterList
      what="holds"
      rows={(holds.data ?? []).map((h) => ({
        id: h.id,
        name: h.name,
        detail:
          h.stage.state === 'in force'
            ? `${countWords(h.covers, 'item')}, keeps ${numberWords(h.keeps)} from going${h.unknown > 0 ? ` · ${h.unknown} not answered` : ''}`
            : h.matter || 'no matter yet',
        tag: <StageTag state={h.stage.state} />,
        href: holdLink(h.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayHold && <Button onClick={() => setQuery({ new: 'hold' }, 'push')}>New</Button>}
      empty={holds.isPending ? 'Loading …' : 'Press New to keep something whatever the rules say.'}
    />
  );
}
