import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { BROAD, PEOPLE } from '../links.ts';
import { useAccessShelf } from '../use-access.ts';

/** Who is known, and who of them stands out. */
export function PeopleOverview() {
  const shelf = useAccessShelf();
  if (shelf.isError && !shelf.data)
    return <Failure error={shelf.error} onRetry={() => void shelf.refetch()} />;
  if (!shelf.data) return <Loading what="people and groups" />;
  const { estate, directoryRead } = shelf.data;
  return (
    <>
      <SheetHead
        title={
          estate.leaversOpen > 0
            ? `◆ ${countWords(estate.leaversOpen, 'person', 'people')} left, and the ${estate.leaversOpen === 1 ? 'account is' : 'accounts are'} still open`
            : '✓ Nobody who left has an open account'
        }
        detail={`As the directory told ${directoryRead === null ? 'never' : whenWords(directoryRead)}`}
      />
      <FigureRow>
        <Figure value={numberWords(estate.people)} words="people" href={PEOPLE} />
        <Figure value={numberWords(estate.groups)} words="groups" href={`${PEOPLE}?kind=group`} />
        <Figure value={numberWords(estate.guests)} words="guests" href={`${PEOPLE}?kind=guest`} />
        <Figure
          value={numberWords(estate.leaversOpen)}
          words="left, still open"
          href={`${PEOPLE}?kind=leaver`}
          mark={estate.leaversOpen > 0}
        />
      </FigureRow>
      <p>
        Choose somebody to see what they reach and by which way, or look at{' '}
        <a href={BROAD}>what is too broad</a>.
      </p>
    </>
  );
}
