import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { countWords, dateWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { assessmentLink } from '../links.ts';
import { pointsWords, readyWords } from '../obligation-words.ts';
import { useAssessments } from '../use-obligations.ts';
import { CycleActs } from './CycleActs.tsx';
import css from '../obligations.module.css';

/** All assessments beside each other. */
export function AssessmentsOverview() {
  const assessments = useAssessments();
  const mayStart = useMay('obligations.edit');
  if (assessments.isError && !assessments.data)
    return <Failure error={assessments.error} onRetry={() => void assessments.refetch()} />;
  if (!assessments.data) return <Loading what="assessments" />;
  const start = mayStart && (
    <Button kind="primary" onClick={() => setQuery({ new: 'assessment' }, 'push')}>
      Start an assessment
    </Button>
  );
  if (assessments.data.length === 0)
    return (
      <Empty title="Nothing is assessed yet" action={start}>
        Choose a law or a standard from the library. What you do for one counts in every other that asks for
        it.
      </Empty>
    );
  const cycles = [...new Map(assessments.data.map((a) => [a.cycleId, a.cycle] as const))];
  const failed = assessments.data.reduce((n, a) => n + a.failed, 0);
  return (
    <>
      <SheetHead
        title={countWords(assessments.data.length, 'assessment')}
        detail={failed === 0 ? '✓ No test fails' : `◆ ${countWords(failed, 'test fails', 'tests fail')}`}
        actions={start}
      />
      {cycles.map(([id, name]) => (
        <section key={id} className={css['cycles']}>
          <div className={css['cycle']}>
            <h2 className={css['heading']}>{name}</h2>
            <CycleActs id={id} name={name} />
          </div>
          <FigureTable
            columns={[
              'Framework',
              { figure: 'Ready of 100' },
              { figure: 'Points' },
              { figure: 'Tests that fail' },
              'Newer version',
            ]}
            rows={assessments.data
              .filter((a) => a.cycleId === id)
              .map((a) => ({
                key: a.id,
                cells: [
                  <a href={assessmentLink(a.id)}>{a.name}</a>,
                  readyWords(a.tally),
                  `${pointsWords(a.tally.given)} of ${pointsWords(a.tally.applicable)}`,
                  a.failed === 0 ? '✓ none' : <span className={css['mark']}>◆ {a.failed}</span>,
                  a.newer === null ? '' : `◇ ${dateWords(a.newer)}`,
                ],
              }))}
          />
        </section>
      ))}
    </>
  );
}
