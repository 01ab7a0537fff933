import { BOUND_KINDS } from '../../../core/retention/rules/law-bound.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, setQuery } from '../../desk/location.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { Failure } from '../../parts/states.tsx';
import { boundLink } from '../links.ts';
import { useLawBounds } from '../use-retention.ts';

export function LawRegister({ chosen }: { readonly chosen: string | undefined }) {
  const bounds = useLawBounds();
  const mayEdit = useMay('retention.edit');
  if (bounds.isError && !bounds.data)
    return <Failure error={bounds.error} onRetry={() => void bounds.refetch()} />;
  return (
    <RegisterList
      what="bounds of law"
      rows={(bounds.data ?? []).map((b) => ({
        id: b.id,
        name: b.name,
        detail: `${BOUND_KINDS[b.kind]} ${b.term}${b.article ? ` · ${b.article}` : ''}`,
        tag: <StageTag state={b.stage.state} />,
        href: boundLink(b.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      action={mayEdit && <Button onClick={() => setQuery({ new: 'bound' }, 'push')}>New</Button>}
      empty={
        bounds.isPending ? 'Loading …' : 'Press New to say what a law asks to keep, at least or at most.'
      }
    />
  );
}
