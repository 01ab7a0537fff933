import { useQuery } from '@tanstack/react-query';
import type * as holdingsSetsSetOverviewApi from '../../../../pages/api/holdings/sets/[set]/overview.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import type { Share } from '../../../../core/interval.ts';
import { request } from '../../../desk/request.ts';
import { percentWords } from '../../../desk/words.ts';
import { SoundingsSection } from '../../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../../parts/states.tsx';
import { detectorLink } from '../../links.ts';
import { useDetectorName } from '../detectors/use-detectors.ts';
import css from '../../holdings.module.css';

/** How every detector in force does on a labelled set. */
export function SetOverview({ set }: { readonly set: string }) {
  const nameOf = useDetectorName();
  const found = useQuery({
    queryKey: ['set-figures', set, 'overview'],
    queryFn: () =>
      request<AnswerOf<typeof holdingsSetsSetOverviewApi.GET>>('GET', `/api/holdings/sets/${set}/overview`),
  });
  return (
    <SoundingsSection title="All that is in force, on this set">
      {found.isError && <Failure error={found.error} onRetry={() => void found.refetch()} />}
      {found.isPending && <Loading what="the figures" />}
      {found.data?.length === 0 && <p className={css['hint']}>Nothing is marked in it, and nothing found.</p>}
      {found.data && found.data.length > 0 && (
        <table className={css['plain']}>
          <thead>
            <tr>
              <th>Detector</th>
              <th>Precision</th>
              <th>Recall</th>
            </tr>
          </thead>
          <tbody>
            {found.data.map((s) => (
              <tr key={s.label}>
                <th scope="row">
                  <a href={detectorLink(s.label)}>{nameOf(s.label)}</a>
                  {!s.used && <small className={css['hint']}> not in force</small>}
                </th>
                <RateCell share={s.used ? s.precision : null} wrong={s.falseAlarms} words="false" />
                <RateCell share={s.used ? s.recall : null} wrong={s.used ? s.missed : 0} words="missed" />
              </tr>
            ))}
          </tbody>
        </table>
      )}
    </SoundingsSection>
  );
}

function RateCell({
  share,
  wrong,
  words,
}: {
  readonly share: Share | null;
  readonly wrong: number;
  readonly words: string;
}) {
  return (
    <td>
      {share ? percentWords(share.share) : '—'}
      {wrong > 0 && (
        <small>
          {' '}
          {wrong} {words}
        </small>
      )}
    </td>
  );
}
