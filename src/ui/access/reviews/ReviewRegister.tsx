import { dayText } from '../../../core/text/day.ts';
import { go } from '../../desk/location.ts';
import { RegisterList } from '../../parts/RegisterList.tsx';
import { Failure } from '../../parts/states.tsx';
import { reviewLink } from '../links.ts';
import { useReviews } from './use-reviews.ts';

export function ReviewRegister({ chosen }: { readonly chosen: string | undefined }) {
  const reviews = useReviews();
  if (reviews.isError && !reviews.data)
    return <Failure error={reviews.error} onRetry={() => void reviews.refetch()} />;
  return (
    <RegisterList
      what="reviews"
      rows={(reviews.data ?? []).map((r) => ({
        id: String(r.id),
        name: r.name,
        detail:
          r.state === 'open'
            ? `${r.kept + r.taken} of ${r.lines} answered · until ${dayText(r.due)}`
            : `✓ ended · ${r.taken} taken away`,
        href: reviewLink(r.id),
      }))}
      chosen={chosen}
      onChoose={(r) => go(r.href)}
      empty={
        reviews.isPending
          ? 'Loading …'
          : 'Nothing is being reviewed. Begin at a place or a person, with “Start a review”.'
      }
    />
  );
}
