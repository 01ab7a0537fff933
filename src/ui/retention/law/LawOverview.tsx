import { BOUND_KINDS } from '../../../core/retention/rules/law-bound.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { boundLink } from '../links.ts';
import { useLawBounds, useRetentionTotals } from '../use-retention.ts';

/** What the law asks, and how much of what is held it moves to another day. */
export function LawOverview() {
  const bounds = useLawBounds();
  const totals = useRetentionTotals();
  if (bounds.isError && !bounds.data)
    return <Failure error={bounds.error} onRetry={() => void bounds.refetch()} />;
  if (!bounds.data) return <Loading what="what the law asks" />;
  if (bounds.data.length === 0)
    return (
      <Empty title="No law is told yet">
        Say what laws ask to keep, at least or at most: no rule leaves that, whatever it says. Press New to
        begin.
      </Empty>
    );
  const inForce = totals.data?.inForce;
  const moved = inForce?.rules.reduce((n, r) => n + r.moved, 0) ?? 0;
  return (
    <>
      <SheetHead
        title={
          moved === 0
            ? '✓ Rules keep to what the law asks'
            : `The law moves ${countWords(moved, 'item')} to another day than rules say`
        }
        detail={
          inForce && inForce.coverage.crossed > 0
            ? `◆ Of ${countWords(inForce.coverage.crossed, 'item')} it asks for more than it lets: the minimum counts`
            : '✓ No minimum is behind a maximum'
        }
      />
      <FigureTable
        columns={['Law', 'Asks to keep', 'Written in', { figure: 'About' }, { figure: 'Moves' }]}
        rows={bounds.data.map((b) => {
          const of = inForce?.bounds.find((x) => x.id === b.id);
          return {
            key: b.id,
            cells: [
              <>
                <a href={boundLink(b.id)}>{b.name}</a>{' '}
                {b.stage.state !== 'in force' && <StageTag state={b.stage.state} />}
              </>,
              `${BOUND_KINDS[b.kind]} ${b.term}`,
              b.article,
              of ? numberWords(of.about) : '–',
              of ? numberWords(of.moves) : '–',
            ],
          };
        })}
      />
    </>
  );
}
