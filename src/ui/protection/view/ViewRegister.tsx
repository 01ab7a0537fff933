import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { viewRuleLink } from '../links.ts';
import { useViewRules } from './use-view.ts';

/** Rules about what is kept in view. */
export function ViewRegister({ chosen }: { readonly chosen: string | undefined }) {
  const may = useMay('protection.activity');
  const mayWatch = useMay('protection.watch');
  const rules = useViewRules(may);
  if (!may) return null;
  if (rules.isError && !rules.data)
    return <Failure error={rules.error} onRetry={() => void rules.refetch()} />;
  return (
    <RegisterList
      what="rules about what is kept"
      rows={(rules.data ?? []).map((r) => ({
        ...{ id: r.id, name: r.name, href: viewRuleLink(r.id) },
        detail: r.days === 0 ? 'not kept' : `kept for ${countWords(r.days, 'day')}`,
        tag: <StageTag state={r.stage.state} />,
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayWatch && <Button onClick={() => setQuery({ new: 'view' }, 'push')}>New</Button>}
      empty={
        rules.isPending
          ? 'Loading …'
          : 'What is done is kept as long as its kind says. Press New to keep some of it longer, or not at all.'
      }
    />
  );
}
