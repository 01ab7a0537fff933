import { dayText } from '../../../core/text/day.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { changeLink, PLACES, reviewLink } from '../links.ts';
import { useReviews } from './use-reviews.ts';

/** What is asked of whom, how far it is, and what came of those before. */
export function ReviewsOverview() {
  const reviews = useReviews();
  if (reviews.isError && !reviews.data)
    return <Failure error={reviews.error} onRetry={() => void reviews.refetch()} />;
  if (!reviews.data) return <Loading what="the reviews" />;
  if (reviews.data.length === 0)
    return (
      <Empty title="Nothing is being reviewed" action={<a href={PLACES}>Choose a place to review</a>}>
        Owners are asked, grant by grant, what may stay, beside who uses it; what is to go becomes a change
        that is rehearsed first.
      </Empty>
    );
  const open = reviews.data.filter((r) => r.state === 'open');
  const missing = open.reduce((n, r) => n + r.lines - r.kept - r.taken, 0);
  return (
    <>
      <SheetHead
        title={
          open.length === 0
            ? '✓ No review is open'
            : missing === 0
              ? '✓ All is answered'
              : `${countWords(missing, 'line')} in ${countWords(open.length, 'review')} wait for an answer`
        }
        detail="Owners are written to when a review begins, a week and a day before it ends, and weekly once it is over"
      />
      <FigureTable
        columns={[
          'Review',
          'Until',
          { figure: 'Lines' },
          { figure: 'Keep' },
          { figure: 'Take away' },
          'State',
        ]}
        rows={reviews.data.map((r) => ({
          key: r.id,
          cells: [
            <a href={reviewLink(r.id)}>{r.name}</a>,
            dayText(r.due),
            numberWords(r.lines),
            numberWords(r.kept),
            numberWords(r.taken),
            r.state === 'open' ? (
              `${numberWords(r.lines - r.kept - r.taken)} open, ${countWords(r.owners, 'owner')}`
            ) : r.change === null ? (
              '✓ ended'
            ) : (
              <a href={changeLink(r.change)}>✓ ended, change {r.change}</a>
            ),
          ],
        }))}
      />
    </>
  );
}
