import { useMay } from '../../desk/account-context.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { lookoutLink, viewRuleLink } from '../links.ts';
import { useViewOutlook, useViewRule } from './use-view.ts';
import css from '../protection.module.css';

const DAYS = 30;

/** What a rule changes about what is kept, which other rules hold too, and which lookouts would be blind. */
export function ViewSoundings({ id }: { readonly id: string }) {
  const may = useMay('protection.activity');
  const rule = useViewRule(id);
  const outlook = useViewOutlook(id, may ? rule.data?.revision : undefined, DAYS);
  if (!may) return null;
  if (outlook.isError) return <Failure error={outlook.error} onRetry={() => void outlook.refetch()} />;
  const { data } = outlook;
  if (!data) return <Loading what="what it would change" />;
  return (
    <>
      <SoundingsSection title={`Soundings · by the acts of ${DAYS} days`}>
        <FigureRow>
          <Figure value={numberWords(data.held)} words="acts it holds for" />
          {data.longer > 0 && <Figure value={numberWords(data.longer)} words="kept longer" />}
          {data.shorter > 0 && <Figure value={numberWords(data.shorter)} words="kept shorter" />}
          {data.notKept > 0 && <Figure value={numberWords(data.notKept)} words="kept no more" mark />}
        </FigureRow>
      </SoundingsSection>
      <SoundingsSection title="What would be blind">
        {data.blinded.length === 0 ? (
          <p>✓ Every lookout that is on sees what it saw.</p>
        ) : (
          <ul className={css['weighed']}>
            {data.blinded.map((b) => (
              <li key={b.id}>
                <span className={css['mark']}>◆</span> <a href={lookoutLink(b.id)}>{b.name}</a> would miss{' '}
                {countWords(b.acts, 'act')}
                {b.needs > 1 && `: it looks back ${countWords(b.needs, 'day')}`}
              </li>
            ))}
          </ul>
        )}
      </SoundingsSection>
      {data.overlaps.length > 0 && (
        <SoundingsSection title="Where another rule holds too">
          <ul className={css['weighed']}>
            {data.overlaps.map((o) => (
              <li key={o.id}>
                <a href={viewRuleLink(o.id)}>{data.names[o.id] ?? o.id}</a>, {countWords(o.acts, 'act')}:{' '}
                {o.wins === 'this' ? 'this one wins' : 'that one wins'}, which keeps them longer
              </li>
            ))}
          </ul>
        </SoundingsSection>
      )}
    </>
  );
}
