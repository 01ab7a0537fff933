import { THEN } from '../../../core/retention/verdict/retention-verdict.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { retentionRuleLink } from '../links.ts';
import { useRetentionRules, useRetentionTotals } from '../use-retention.ts';

export function RetentionRuleRegister({ chosen }: { readonly chosen: string | undefined }) {
  const rules = useRetentionRules();
  const totals = useRetentionTotals();
  const mayEdit = useMay('retention.edit');
  if (rules.isError && !rules.data)
    return <Failure error={rules.error} onRetry={() => void rules.refetch()} />;
  const countOf = (id: string) => {
    const { inForce, rehearsed } = totals.data ?? {};
    const of = inForce?.rules.find((r) => r.id === id) ?? rehearsed?.find((r) => r.id === id);
    return of && countWords(of.decides, 'item');
  };
  return (
    <RegisterList
      what="retention rules"
      rows={(rules.data ?? []).map((r) => ({
        id: r.id,
        name: r.name,
        detail: [r.term, countOf(r.id) ?? THEN[r.then]].filter(Boolean).join(' · '),
        tag: <StageTag state={r.stage.state} />,
        href: retentionRuleLink(r.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'rule' }, 'push')}>New</Button>}
      empty={rules.isPending ? 'Loading …' : 'Press New to say how long something is kept.'}
    />
  );
}
