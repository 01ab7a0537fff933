import { LEVEL_POLICY_SENTENCE, type LevelPolicy } from '../../../core/protection/runs/level-policy.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { levelRuleLink, PROPOSED } from '../links.ts';
import { useOutlook } from '../use-protection.ts';
import css from '../protection.module.css';

/** All rules in force against each other: what each wins and loses, and what is still to be done. */
export function LevelRulesSheet() {
  const outlook = useOutlook();
  const mayEdit = useMay('protection.edit');
  const mayRun = useMay('protection.run');
  const { data } = outlook;
  if (outlook.isError && !data)
    return <Failure error={outlook.error} onRetry={() => void outlook.refetch()} />;
  if (!data) return <Loading what="the rules" />;
  if (data.rules.length === 0)
    return (
      <Empty
        title="No rule sets a level"
        action={
          mayEdit && (
            <Button kind="primary" onClick={() => setQuery({ new: 'rule' }, 'push')}>
              New level rule
            </Button>
          )
        }
      >
        A rule sets a level where a lens holds: Strictly confidential where there are health notes. Begin one;
        what it would do to what is held is told at once, and nothing is changed before you say so.
      </Empty>
    );
  return (
    <>
      <SheetHead
        title="Level rules"
        detail={
          data.changes + data.takenOff + data.lost === 0
            ? '✓ Every item has the level that the rules in force say'
            : data.changes + data.takenOff === 0
              ? 'Every item has the level that the rules in force say'
              : `${countWords(data.changes, 'item has', 'items have')} another level than the rules in force say`
        }
        actions={
          mayRun &&
          data.changes + data.takenOff + data.lost > 0 && (
            <Button kind="primary" onClick={() => setQuery({ new: 'run' }, 'push')}>
              Set levels backwards …
            </Button>
          )
        }
      />
      <FigureTable
        columns={[
          'Rule in force',
          'Sets',
          { figure: 'Holds for' },
          { figure: 'A stronger has' },
          { figure: 'Chosen by hand stands' },
          { figure: 'Still to do' },
        ]}
        rows={data.rules.map((r) => ({
          key: r.id,
          cells: [
            <>
              <a href={levelRuleLink(r.id)}>{r.name}</a>
              {r.hopeless && <div className={css['mark']}>◆ Never wins: “{r.hopeless}” is stronger.</div>}
            </>,
            r.level,
            numberWords(r.holds),
            numberWords(r.beaten),
            numberWords(r.stands),
            r.proposed > 0 ? (
              <a href={PROPOSED}>{numberWords(r.proposed)} asked</a>
            ) : (
              numberWords(r.set + r.raised + r.lowered)
            ),
          ],
        }))}
      />
      {data.lost > 0 && (
        <p className={css['mark']}>
          ◆ {countWords(data.lost, 'document has', 'documents have')} lost the marking, or{' '}
          {data.lost === 1 ? 'says' : 'say'} a weaker level now; setting levels stamps{' '}
          {data.lost === 1 ? 'it' : 'them'} anew.
        </p>
      )}
      <PolicySentence />
      {data.takenOff > 0 && (
        <p className={css['note']}>
          {countWords(data.takenOff, 'item')} had a level by a rule that does not hold any more; it is taken
          off.
        </p>
      )}
    </>
  );
}

/** When what is held follows the rules. */
function PolicySentence() {
  const mayEdit = useMay('protection.put-in-force');
  const { query, save } = usePlainObject<LevelPolicy>('level policy', 1);
  if (!query.data) return null;
  return (
    <div className={css['policy']}>
      <RuleSentence
        sentence={LEVEL_POLICY_SENTENCE}
        content={query.data.content}
        set={(content) => void save(content, 'Saved; it takes effect from the next survey on.')}
        fixed={!mayEdit}
      />
    </div>
  );
}
