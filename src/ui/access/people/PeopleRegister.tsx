import type { ListedPrincipal } from '../../../server/access/index/person-answers.ts';
import { useMay } from '../../desk/account-context.ts';
import { go, useDeskLocation } from '../../desk/location.ts';
import { useRegister } from '../../lists/use-register.ts';
import { Button } from '../../parts/Button.tsx';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { personLink } from '../links.ts';

/** People and groups, by name. */
export function PeopleRegister({ chosen }: { readonly chosen: string | undefined }) {
  const { query } = useDeskLocation();
  const kind = query.get('kind');
  const mayReview = useMay('access.review');
  const people = useRegister<ListedPrincipal>(
    `access-people ${kind ?? ''}`,
    `/api/access/people${kind === null ? '' : `?kind=${encodeURIComponent(kind)}`}`,
  );
  if (people.query.isError && people.rows.length === 0)
    return <Failure error={people.query.error} onRetry={() => void people.query.refetch()} />;
  return (
    <RegisterList
      what={kind === 'group' ? 'groups' : 'people and groups'}
      rows={people.rows.map((p) => ({
        id: p.key,
        name: p.name,
        detail: p.mark ? `◆ ${p.detail}` : p.detail,
        href: personLink(p.key),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      paged={people.paged}
      action={
        mayReview &&
        kind !== null && (
          <Button onClick={() => go(`/access/reviews?new=review&kind=${encodeURIComponent(kind)}`)}>
            Review
          </Button>
        )
      }
      empty={people.query.isPending ? 'Loading …' : 'Nobody is called so.'}
    />
  );
}
