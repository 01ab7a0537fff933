import { countWords, dateWords, numberWords } from '../../desk/words.ts';
import { CheckList } from '../../parts/CheckList.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Loading } from '../../parts/states.tsx';
import { TimeChart } from '../../parts/TimeChart.tsx';
import { holdLink } from '../links.ts';
import { useHold, useHoldOutlook } from '../use-retention.ts';
import css from '../retention.module.css';

/** What a hold covers, what it keeps from going, and who was told. */
export function HoldSoundings({ id }: { readonly id: string }) {
  const hold = useHold(id);
  const { data } = useHoldOutlook(id, hold.data?.revision);
  if (!data) return <Loading what="what it holds" />;
  return (
    <>
      <SoundingsSection title="Soundings · what it holds">
        <FigureRow>
          <Figure value={numberWords(data.covers)} words="items covered" />
          <Figure value={numberWords(data.keeps)} words="would go by now but for it" />
        </FigureRow>
        {data.covers === 0 && <p className={css['mark']}>◆ Nothing that is held is in it.</p>}
        {data.overlaps.map((o) => (
          <p key={o.id} className={css['note']}>
            {countWords(o.covers, 'of them is', 'of them are')} in <a href={holdLink(o.id)}>{o.name}</a>, too
          </p>
        ))}
      </SoundingsSection>
      <SoundingsSection title="Who was told">
        {data.notices.length === 0 ? (
          <p className={css['note']}>Nobody yet. Custodians are written to once it is in force.</p>
        ) : (
          <CheckList>
            {data.notices.map((n) => (
              <li key={n.address}>
                {n.known_at ? '✓' : '○'} {n.address}
                <small>
                  {n.known_at
                    ? `knows of it since ${dateWords(n.known_at)}`
                    : n.told_at
                      ? `told ${n.times > 1 ? `${n.times} times, ` : ''}first on ${dateWords(n.told_at)}, no answer`
                      : 'is about to be told'}
                  {n.released_at && `, told on ${dateWords(n.released_at)} that it is over`}
                </small>
              </li>
            ))}
          </CheckList>
        )}
      </SoundingsSection>
      {data.days.length > 1 && (
        <SoundingsSection title="Day by day">
          <TimeChart
            label="How many does it keep from going?"
            unit="items"
            series={[{ name: 'keeps', points: data.days.map((d) => ({ at: d.day, value: d.keeps })) }]}
          />
        </SoundingsSection>
      )}
    </>
  );
}
