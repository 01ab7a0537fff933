import { go } from '../../desk/location.ts';
import { dayWords } from '../../desk/words.ts';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { CHANGES, changeLink } from '../links.ts';
import { useChanges } from '../use-access.ts';
import { CHANGE_WORDS } from './change-state.ts';

/** Changes that were made from here, the latest first. */
export function ChangeRegister({ chosen }: { readonly chosen: string | undefined }) {
  const changes = useChanges();
  if (changes.isError && !changes.data)
    return <Failure error={changes.error} onRetry={() => void changes.refetch()} />;
  return (
    <RegisterList
      what="changes"
      rows={(changes.data ?? []).map((c) => ({
        id: String(c.id),
        name: c.name,
        detail: `${CHANGE_WORDS[c.state]} · ${c.madeBy ?? 'nobody'}, ${dayWords(c.madeAt)}`,
        href: changeLink(c.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      footer={{ name: 'All that was given and taken away', href: CHANGES, chosen: chosen === undefined }}
      empty={
        changes.isPending
          ? 'Loading …'
          : 'Nothing was changed from here yet. Begin at a place or a person, and it is rehearsed first.'
      }
    />
  );
}
