import type { Step } from '../../../core/protection/handling/handling-rule.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { ASKED, handlingLink } from '../links.ts';
import { useHandlingRules } from './use-handling.ts';

const DOES: Readonly<Record<Step, string>> = { record: 'records', ask: 'asks', stop: 'stops' };

export function HandlingRegister({ chosen }: { readonly chosen: string | undefined }) {
  const rules = useHandlingRules();
  const mayEdit = useMay('protection.edit');
  if (rules.isError && !rules.data)
    return <Failure error={rules.error} onRetry={() => void rules.refetch()} />;
  return (
    <RegisterList
      what="handling rules"
      rows={(rules.data ?? []).map((r) => ({
        id: r.id,
        name: r.name,
        detail: doesWords(r.channels),
        tag: <StageTag state={r.stage.state} />,
        href: handlingLink(r.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      footer={{ name: 'Asked by people', href: ASKED, chosen: chosen === 'asked' }}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'handling' }, 'push')}>New</Button>}
      empty={rules.isPending ? 'Loading …' : 'Press New to say what may be done with data in motion.'}
    />
  );
}

function doesWords(channels: Readonly<Partial<Record<string, Step>>>): string {
  const steps = Object.values(channels);
  const does = (['stop', 'ask', 'record'] as const).filter((s) => steps.includes(s)).map((s) => DOES[s]);
  return does.length === 0 ? 'no way chosen yet' : `${does.join(', ')} · ${Object.keys(channels).join(', ')}`;
}
