import { plainName } from '../../../core/websites/preferences/preference-page.ts';
import { useDeskLocation } from '../../desk/location.ts';
import { numberWords } from '../../desk/words.ts';
import { Bars } from '../../parts/Bars.tsx';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import css from '../websites.module.css';
import { channelName } from './PeopleTab.tsx';
import { PersonSoundings } from './PersonSoundings.tsx';
import { LEFT_DAYS, usePreferences } from './use-preferences.ts';

/** One person, or how all of them stand and why those left who did. */
export function PreferenceSoundings() {
  const person = useDeskLocation().query.get('person');
  return person ? <PersonSoundings key={person} id={person} /> : <AllPeople />;
}

function AllPeople() {
  const preferences = usePreferences();
  if (preferences.isError)
    return <Failure error={preferences.error} onRetry={() => void preferences.refetch()} />;
  if (!preferences.data) return <Loading what="how people stand" />;
  const { figures } = preferences.data;
  const bars = (counts: Readonly<Record<string, number>>, name: (code: string) => string) =>
    Object.entries(counts)
      .toSorted(([, a], [, b]) => b - a)
      .map(([key, count]) => ({ key, name: name(key), count }));
  return (
    <>
      <SoundingsSection title="How people stand">
        <FigureRow>
          <Figure value={numberWords(figures.stands['says yes'])} words="say yes" />
          <Figure value={numberWords(figures.stands['never asked'])} words="never asked" />
          <Figure value={numberWords(figures.stands.left)} words="left" />
        </FigureRow>
        {figures.stands['never asked'] > 0 && (
          <p className={css['dim']}>Whoever never said anything gets nothing: no answer is no consent.</p>
        )}
      </SoundingsSection>
      {figures.stands['says yes'] > 0 && (
        <>
          <SoundingsSection title="Reached by">
            <Bars label="Reached by" bars={bars(figures.channels, channelName)} />
          </SoundingsSection>
          <SoundingsSection title="About">
            <Bars label="About" bars={bars(figures.topics, plainName)} />
          </SoundingsSection>
        </>
      )}
      <SoundingsSection title={`Why people left, in ${LEFT_DAYS} days`}>
        {figures.left === 0 ? (
          <p className={css['dim']}>Nobody left.</p>
        ) : (
          <Bars
            label="Why people left"
            bars={figures.reasons.map(({ reason, count }) => ({
              key: reason,
              name: reason === '' ? 'They did not say' : plainName(reason),
              count,
            }))}
          />
        )}
      </SoundingsSection>
    </>
  );
}
