import { peopleWords } from '../../../core/cases/incidents/reckoned.ts';
import { numberWords } from '../../desk/words.ts';
import { CheckList } from '../../parts/CheckList.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { useIncident } from './use-incidents.ts';
import css from '../cases.module.css';

const HOUR = 3_600_000;

/** Whether it can be told in time, how many it is about, and what is missing. */
export function IncidentSoundings({ id }: { readonly id: string }) {
  const i = useIncident(id).data;
  if (!i) return null;
  const { next } = i;
  const hours = next?.by ? Math.floor((Date.parse(next.by) - Date.parse(i.now)) / HOUR) : undefined;
  const told = i.deadlines.filter((d) => d.toldAt !== null);
  const late = told.filter((d) => d.by !== null && d.toldAt !== null && d.toldAt > d.by);
  return (
    <>
      <SoundingsSection title={i.closedAt ? 'How it went' : 'Can it be told in time?'}>
        <FigureRow>
          {hours !== undefined && (
            <Figure
              value={numberWords(Math.abs(hours))}
              words={hours < 0 ? 'hours late' : 'hours left'}
              mark={hours < 24}
            />
          )}
          <Figure
            value={i.severity ? i.severity.score.toFixed(2) : '–'}
            words={i.severity?.level ?? 'not weighed'}
            mark={(i.severity?.score ?? 0) >= 3}
          />
          {i.reckoned && <Figure value={numberWords(i.reckoned.items)} words="items" />}
        </FigureRow>
        {i.reckoned && <p>It is about {peopleWords(i.reckoned)}.</p>}
        {told.length > 0 && (
          <p className={css['note']}>
            {told.length} told, {late.length === 0 ? 'all in time' : `${late.length} late`}.
          </p>
        )}
      </SoundingsSection>
      {i.needs.length > 0 && (
        <SoundingsSection title="Before it is closed">
          <CheckList label="Before it is closed">
            {i.needs.map((n) => (
              <li key={n.step + n.words}>
                {n.wrong ? <span className={css['mark']}>◆ {n.words}</span> : `○ ${n.words}`}
              </li>
            ))}
          </CheckList>
        </SoundingsSection>
      )}
      {i.proposal && (
        <SoundingsSection title="What the law has, as grave as it is">
          <p>
            The authority: {i.proposal.authority}. The people: {i.proposal.people}.
          </p>
          <p className={css['note']}>{i.proposal.why}</p>
        </SoundingsSection>
      )}
    </>
  );
}
