import { countWords, numberWords } from '../../desk/words.ts';
import { itemLink } from '../../holdings/offers.ts';
import { Bars } from '../../parts/Bars.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { Failure } from '../../parts/states.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { useLevelRule, useOutlook } from '../use-protection.ts';
import css from '../protection.module.css';

/** What the rule would come to if its draft were in force now: how many, where, one of them explained. */
export function LevelRuleSoundings({ id }: { readonly id: string }) {
  const rule = useLevelRule(id);
  const outlook = useOutlook(id, rule.data?.revision);
  // What was reckoned for an older draft is no answer for this one.
  if (outlook.isError) return <Failure error={outlook.error} onRetry={() => void outlook.refetch()} />;
  const { data } = outlook;
  if (!data) return null;
  const mine = data.rules.find((r) => r.id === id);
  const asks = mine?.asks ?? false;
  return (
    <>
      <SoundingsSection title="Soundings · if it were in force now">
        {mine ? (
          <>
            <FigureRow>
              {asks ? (
                <Figure value={numberWords(mine.proposed)} words="owners would be asked about" />
              ) : (
                <Figure value={numberWords(mine.set)} words="would be set" />
              )}
              {mine.raised > 0 && (
                <Figure
                  value={numberWords(mine.raised)}
                  words={`raised from ${data.raisedFrom.map((r) => r.level).join(', ')}`}
                />
              )}
              {mine.lowered > 0 && <Figure value={numberWords(mine.lowered)} words="lowered" />}
            </FigureRow>
            <p className={css['note']}>
              It holds for {countWords(mine.holds, 'item')}.{' '}
              {mine.beaten > 0 && `A stronger rule has ${numberWords(mine.beaten)} of them. `}
              {mine.stands > 0 &&
                `${countWords(mine.stands, 'keeps', 'keep')} the level somebody chose or that came with it. `}
            </p>
            {mine.hopeless && (
              <p className={css['mark']}>
                ◆ It can never win: “{mine.hopeless}” is stronger and holds wherever it does.
              </p>
            )}
          </>
        ) : (
          <p className={css['note']}>Choose a level that is in force, and what it would do is told here.</p>
        )}
        {data.changes > 0 && (
          <p className={css['note']}>
            {countWords(data.stamped, 'document', 'documents')} would be stamped
            {asks ? ' where their owners agree' : ''}.
            {data.noted.length > 0 &&
              ` The others carry no marking, and are noted: ${data.noted
                .slice(0, 3)
                .map((n) => `${numberWords(n.count)} ${n.format || 'of no known format'}`)
                .join(', ')}${data.noted.length > 3 ? ' …' : ''}.`}
          </p>
        )}
      </SoundingsSection>
      {data.bySource.length > 0 && (
        <SoundingsSection title="By source">
          <Bars
            label="By source"
            bars={data.bySource.map((s) => ({ key: s.id, name: s.name, count: s.count }))}
          />
        </SoundingsSection>
      )}
      {data.sample.length > 0 && (
        <SoundingsSection title={data.sample.length === 1 ? 'One of them, opened' : 'Some of them, opened'}>
          {data.sample.map((item) => (
            <div key={item.id} className={css['item']}>
              <a className={css['name']} href={itemLink(String(item.id), 'everything')} title={item.place}>
                {item.name}
              </a>
              {item.words.map((w) => (
                <p key={w}>{w}</p>
              ))}
            </div>
          ))}
        </SoundingsSection>
      )}
    </>
  );
}
