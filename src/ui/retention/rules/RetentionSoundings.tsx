import { NOT_CHOSEN } from '../../../core/retention/rules/term.ts';
import type { RetentionOutlook, ShownItem } from '../../../server/retention/rehearsal/outlook.ts';
import { dayText } from '../../../core/text/day.ts';
import { peopleWords } from '../people-words.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { itemLink } from '../../holdings/offers.ts';
import { CheckList } from '../../parts/CheckList.tsx';
import { Bars } from '../../parts/Bars.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Loading } from '../../parts/states.tsx';
import { boundLink, retentionRuleLink } from '../links.ts';
import { useRetentionOutlook, useRetentionRule } from '../use-retention.ts';
import { MonthBars } from './MonthBars.tsx';
import css from '../retention.module.css';

/** What the rule would come to if its draft were in force today. */
export function RetentionSoundings({ id }: { readonly id: string }) {
  const rule = useRetentionRule(id);
  const isWhole = rule.data !== undefined && rule.data.content.keep !== NOT_CHOSEN;
  const { data, error } = useRetentionOutlook(id, rule.data?.revision, isWhole);
  if (rule.data && !isWhole)
    return (
      <SoundingsSection title="Soundings">
        <p className={css['note']}>Choose how long it keeps, and what it would do is told here.</p>
      </SoundingsSection>
    );
  if (error && !data) return <p role="alert">◆ {error.message}</p>;
  if (!data) return <Loading what="what it would do" />;
  const { totals } = data;
  return (
    <>
      <SoundingsSection title="Soundings · what this rule would do">
        <FigureRow>
          <Figure value={numberWords(totals.due)} words="due now" />
          <Figure value={numberWords(totals.running)} words="kept, clock running" />
          {totals.held > 0 && <Figure value={numberWords(totals.held)} words="held" />}
          {totals.forGood > 0 && (
            <Figure value={numberWords(totals.forGood)} words="kept for good, or not begun" />
          )}
        </FigureRow>
        {data.never && <p className={css['mark']}>◆ It decides nothing: {data.never}.</p>}
        {data.months.length > 0 && <MonthBars months={data.months} now={data.today.slice(0, 7)} />}
      </SoundingsSection>
      {totals.due > 0 && (
        <SoundingsSection title="Who is in what is due">
          <p>
            {peopleWords(data.people)}
            {data.special > 0 && (
              <>
                {' '}
                · <b className={css['mark']}>◆ {countWords(data.special, 'item')} with special data</b>
              </>
            )}
          </p>
          {data.data.length > 0 && (
            <Bars
              label="Kinds of data in what is due"
              bars={data.data.map((d) => ({ key: d.id, name: d.name, count: d.count }))}
              few={4}
            />
          )}
        </SoundingsSection>
      )}
      <Checks outlook={data} />
      {data.owners.length > 0 && (
        <SoundingsSection title="Due, by owner">
          <Bars
            label="Due, by owner"
            bars={data.owners.map((o) => ({ key: o.id, name: o.name, count: o.count }))}
            few={4}
          />
        </SoundingsSection>
      )}
      {data.sources.length > 0 && (
        <SoundingsSection title="Due, by source">
          <Bars
            label="Due, by source"
            bars={data.sources.map((s) => ({ key: s.id, name: s.name, count: s.count }))}
            few={4}
          />
        </SoundingsSection>
      )}
    </>
  );
}

/** What has to be looked at before it is in force. */
function Checks({ outlook }: { readonly outlook: RetentionOutlook }) {
  const { surprises, movedBy, rivals, beatenBy } = outlook;
  return (
    <SoundingsSection title="Before it is in force">
      <CheckList>
        {surprises === null ? (
          <li>○ No day of rehearsal to compare with yet</li>
        ) : surprises.items === 0 ? (
          <li>✓ No surprise since {dayText(surprises.since)}</li>
        ) : (
          <li>
            <span className={css['mark']}>
              ◆ {countWords(surprises.items, 'item is', 'items are')} due that {dayText(surprises.since)} did
              not tell
            </span>
            <Examples items={surprises.examples} />
          </li>
        )}
        {movedBy.length === 0 && <li>✓ It keeps to what the law asks</li>}
        {movedBy.map((m) => (
          <li key={m.id}>
            <span className={css['mark']}>
              ◆ {countWords(m.count, 'item')}{' '}
              {m.longer === m.count
                ? `${m.count === 1 ? 'stays' : 'stay'} longer, as the law asks`
                : m.longer === 0
                  ? `${m.count === 1 ? 'goes' : 'go'} sooner, as the law asks`
                  : `${m.count === 1 ? 'ends' : 'end'} another day, as the law asks`}
              :{' '}
            </span>
            <a href={boundLink(m.id)}>{m.name}</a>, {m.article}
            <Examples items={m.examples} />
          </li>
        ))}
        {rivals.length === 0 && <li>✓ No other rule is as specific and says otherwise</li>}
        {rivals.map((r) => (
          <li key={r.id}>
            <span className={css['mark']}>
              ◆ {countWords(r.count, 'item')} as specific, and another day:{' '}
            </span>
            <a href={retentionRuleLink(r.id)}>{r.name}</a>
            <Examples items={r.examples} />
          </li>
        ))}
        {beatenBy.map((b) => (
          <li key={b.id}>
            {numberWords(b.count)} of its items are decided by{' '}
            {b.id === '' || b.id.startsWith('item:') ? (
              b.name
            ) : (
              <a href={retentionRuleLink(b.id)}>{b.name}</a>
            )}
          </li>
        ))}
      </CheckList>
    </SoundingsSection>
  );
}

function Examples({ items }: { readonly items: readonly ShownItem[] }) {
  return items.slice(0, 3).map((i) => (
    <small key={i.id}>
      <a href={itemLink(String(i.id), 'everything')} title={i.place}>
        {i.name}
      </a>
      {i.ends !== null && `, ends ${dayText(i.ends)}`}
    </small>
  ));
}
