import { go } from '../../desk/location.ts';
import { countWords, dayWords } from '../../desk/words.ts';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { disposalLink } from '../links.ts';
import { useDisposals } from '../use-retention.ts';
import { DISPOSAL_WORDS } from './disposal-words.ts';

export function DisposalRegister({ chosen }: { readonly chosen: string | undefined }) {
  const disposals = useDisposals();
  if (disposals.isError && !disposals.data)
    return <Failure error={disposals.error} onRetry={() => void disposals.refetch()} />;
  return (
    <RegisterList
      what="disposals"
      rows={(disposals.data ?? []).map((d) => ({
        id: d.id,
        name: d.rule,
        detail: `${countWords(d.items, 'item')} of ${d.owner} · ${
          d.state === 'asked' && d.agreed > 0
            ? `${d.agreed} of ${d.needed} agreed`
            : `${DISPOSAL_WORDS[d.state]}${d.certified ? ', certified' : ''}`
        }, ${dayWords(d.madeAt)}`,
        href: disposalLink(d.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      empty={
        disposals.isPending
          ? 'Loading …'
          : 'Nothing is to go yet. Once a rule in force has something due, it is gathered here, by owner.'
      }
    />
  );
}
