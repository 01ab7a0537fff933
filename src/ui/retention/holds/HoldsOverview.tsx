import { countWords, numberWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { holdLink } from '../links.ts';
import { useHolds } from '../use-retention.ts';
import css from '../retention.module.css';

/** What holds keep, all of them, and who did not answer. */
export function HoldsOverview() {
  const holds = useHolds();
  if (holds.isError && !holds.data)
    return <Failure error={holds.error} onRetry={() => void holds.refetch()} />;
  if (!holds.data) return <Loading what="the holds" />;
  const standing = holds.data.filter((h) => h.stage.state === 'in force');
  const unknown = standing.reduce((n, h) => n + h.unknown, 0);
  if (holds.data.length === 0)
    return (
      <Empty title="Nothing is held">
        A hold keeps what a court or an authority may ask for, whatever rules and laws say, and takes in what
        comes later. Press New to place one.
      </Empty>
    );
  return (
    <>
      <SheetHead
        title={
          standing.length === 0 ? 'Nothing is held now' : `${countWords(standing.length, 'hold')} in force`
        }
        detail={
          unknown === 0
            ? '✓ Every custodian said that they know'
            : `○ ${countWords(unknown, 'custodian')} did not answer yet`
        }
      />
      <FigureTable
        columns={[
          'Hold',
          'For',
          { figure: 'Covers' },
          { figure: 'Keeps from going' },
          { figure: 'Not answered' },
        ]}
        rows={holds.data.map((h) => ({
          key: h.id,
          cells: [
            <>
              <a href={holdLink(h.id)}>{h.name}</a>{' '}
              {h.stage.state !== 'in force' && <StageTag state={h.stage.state} />}
            </>,
            h.matter,
            numberWords(h.covers),
            numberWords(h.keeps),
            numberWords(h.unknown),
          ],
        }))}
      />
      <p className={css['note']}>As counted once a day; a hold itself tells how it is now.</p>
    </>
  );
}
