import { EVENT_KIND_WORDS, type EventKind } from '../../../core/protection/activity/event.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, daysAgo, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DayBars } from '../../parts/DayBars.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { KeyLink } from '../alerts/KeyLink.tsx';
import { CountTable } from '../CountTable.tsx';
import { ALERTS } from '../links.ts';
import { useLookout, useLookoutOutlook, useLookouts } from './use-lookouts.ts';
import css from '../protection.module.css';

/** How often it would have raised something, on whom, and what other numbers would come to. */
export function LookoutSoundings({ id }: { readonly id: string }) {
  const may = useMay('protection.activity');
  const lookout = useLookout(id);
  const outlook = useLookoutOutlook(id, may ? lookout.data?.revision : undefined, 30);
  const listed = useLookouts().data?.find((l) => l.id === id);
  if (!may) return null;
  if (outlook.isError) return <Failure error={outlook.error} onRetry={() => void outlook.refetch()} />;
  const { data } = outlook;
  if (!data) return <Loading what="what it would have raised" />;
  const [first] = data.keys;
  return (
    <>
      <SoundingsSection title="Soundings · what it would have raised">
        <FigureRow>
          <Figure value={numberWords(data.raised)} words={`raised in ${data.days} days`} />
          <Figure value={numberWords(data.acts)} words="acts it watches" />
        </FigureRow>
        {first && data.raised > 1 && (
          <p>
            {numberWords(first.n)} of them on <KeyLink of={first.key} />
            {data.keys.length === 1 ? ' alone' : ''}.
          </p>
        )}
        {data.raised > 0 && (
          <DayBars label="By day" unit="alerts" days={data.byDay} from={daysAgo(data.days)} to={daysAgo(0)} />
        )}
      </SoundingsSection>
      {data.blind.length > 0 && (
        <SoundingsSection title="Where it is blind">
          {data.blind.map((b) => (
            <Blind key={b.kind} {...b} onKept={() => void outlook.refetch()} />
          ))}
        </SoundingsSection>
      )}
      {data.others.length > 0 && (
        <SoundingsSection title="With another number">
          <CountTable
            label="With another number"
            rows={data.others.map((o) => ({
              ...{ key: String(o.count), n: o.raised },
              name: `more than ${countWords(o.count, 'time')}`,
            }))}
          />
        </SoundingsSection>
      )}
      {data.keys.length > 1 && (
        <SoundingsSection title="Whose, most often">
          <CountTable
            label="Whose, most often"
            rows={data.keys.map((k) => ({ key: k.key, name: <KeyLink of={k.key} />, n: k.n }))}
          />
        </SoundingsSection>
      )}
      {listed && (
        <SoundingsSection title="What it raised, and what became of it">
          <p>
            <a href={`${ALERTS}?lookout=${encodeURIComponent(id)}`}>
              {countWords(listed.raised, 'alert')} in 30 days
            </a>
            {listed.setAside > 0 && <>, {numberWords(listed.setAside)} of them set aside: they were none</>}
            {listed.open > 0 && <>; {numberWords(listed.open)} open</>}.
          </p>
        </SoundingsSection>
      )}
    </>
  );
}

function Blind({
  kind,
  kept,
  needs,
  onKept,
}: {
  readonly kind: EventKind;
  readonly kept: number;
  readonly needs: number;
  readonly onKept: () => void;
}) {
  const mayKeep = useMay('protection.put-in-force');
  const days = Math.max(needs, 30);
  const keep = async () => {
    try {
      await request('PUT', '/api/protection/activity/kept', { kind, days, saw: kept });
      tell(`What ${EVENT_KIND_WORDS[kind]} tells is kept for ${countWords(days, 'day')} from now on.`);
    } catch (e) {
      tellFailure(e);
    } finally {
      onKept();
    }
  };
  return (
    <p>
      <span className={css['mark']}>◆</span> What {EVENT_KIND_WORDS[kind]} tells is{' '}
      {kept === 0
        ? 'not kept: it sees none of it'
        : `kept for ${countWords(kept, 'day')}, and it needs ${needs}`}
      . {mayKeep && <Button onClick={() => void keep()}>Keep it for {countWords(days, 'day')}</Button>}
    </p>
  );
}
