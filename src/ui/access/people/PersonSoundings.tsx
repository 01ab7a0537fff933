import { useDeskLocation } from '../../desk/location.ts';
import { STRENGTHS } from '../../../core/access/reach/strength.ts';
import { numberWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SoundingsSection } from '../../parts/SoundingsSection.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { PairWays } from '../PairWays.tsx';
import { usePair, usePerson } from '../use-access.ts';
import css from '../access.module.css';

/** How much somebody reaches, and by which way the place at hand. */
export function PersonSoundings({ id, on }: { readonly id: string; readonly on: string | undefined }) {
  const { query } = useDeskLocation();
  const place = query.get('place') ?? undefined;
  const person = usePerson(id, on);
  const pair = usePair(person.data?.is === 'person' ? id : undefined, place, on);
  if (person.isError && !person.data) return <Failure error={person.error} />;
  if (!person.data) return <Loading what="what they reach" />;
  const p = person.data;
  return (
    <>
      {p.counts && (
        <SoundingsSection title="What they can do">
          <FigureRow>
            {STRENGTHS.filter((s) => (p.counts?.[s] ?? 0) > 0).map((s) => (
              <Figure key={s} value={numberWords(p.counts?.[s] ?? 0)} words={`places they can ${s}`} />
            ))}
          </FigureRow>
          {p.unknown > 0 && (
            <p className={css['note']}>Of {numberWords(p.unknown)} more nobody can say for certain.</p>
          )}
        </SoundingsSection>
      )}
      {pair.data ? (
        <SoundingsSection
          title={`${pair.data.place.name}: ${pair.data.found.strength === null ? 'not reached' : `they can ${pair.data.found.strength} it`}`}
        >
          <PairWays pair={pair.data} />
        </SoundingsSection>
      ) : (
        p.is === 'person' && (
          <SoundingsSection title="By which way">
            <p className={css['note']}>Choose a place, and the way to it is told here.</p>
          </SoundingsSection>
        )
      )}
    </>
  );
}
