import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { levelRuleLink } from '../links.ts';
import { useLevelRules, useLevels } from '../use-protection.ts';

export function LevelRuleRegister({ chosen }: { readonly chosen: string | undefined }) {
  const rules = useLevelRules();
  const levels = useLevels();
  const mayEdit = useMay('protection.edit');
  if (rules.isError && !rules.data)
    return <Failure error={rules.error} onRetry={() => void rules.refetch()} />;
  const levelOf = (id: string) => levels.data?.find((l) => l.id === id);
  const rank = (id: string) => levels.data?.findIndex((l) => l.id === id) ?? -1;
  const rows = (rules.data ?? []).toSorted((a, b) => rank(a.level) - rank(b.level));
  return (
    <RegisterList
      what="level rules"
      rows={rows.map((r) => ({
        id: r.id,
        name: r.name,
        ...(levelOf(r.level) ? { colour: levelOf(r.level)?.colour ?? '' } : {}),
        detail: `sets ${levelOf(r.level)?.name ?? 'no level yet'}`,
        tag: <StageTag state={r.stage.state} />,
        href: levelRuleLink(r.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'rule' }, 'push')}>New</Button>}
      empty={rules.isPending ? 'Loading …' : 'Press New to say where a level is set.'}
    />
  );
}
