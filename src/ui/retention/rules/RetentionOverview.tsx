import {
  retentionPolicySentence,
  type RetentionPolicy,
} from '../../../core/retention/rules/retention-policy.ts';
import { useMay } from '../../desk/account-context.ts';
import { countWords, numberWords, percentWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { StageTag } from '../../parts/StageTag.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { RuleSentence } from '../../rules/RuleSentence.tsx';
import { usePlainObject } from '../../rules/use-plain-object.ts';
import { retentionRuleLink } from '../links.ts';
import { useRetentionNames, useRetentionRules, useRetentionTotals } from '../use-retention.ts';
import css from '../retention.module.css';

/** What the rules in force come to: what is due, what is held, and what nobody says anything of. */
export function RetentionOverview() {
  const totals = useRetentionTotals();
  const rules = useRetentionRules();
  if (totals.isError && !totals.data)
    return <Failure error={totals.error} onRetry={() => void totals.refetch()} />;
  if (!totals.data) return <Loading what="the schedule" />;
  const { inForce, rehearsed } = totals.data;
  const { coverage } = inForce;
  const bare = coverage.items - coverage.ruled - coverage.byLaw;
  const share = (n: number) => (coverage.items === 0 ? 0 : n / coverage.items);
  return (
    <>
      <SheetHead
        title={
          coverage.due === 0
            ? '✓ Nothing is past its time'
            : `${countWords(coverage.due, 'item is', 'items are')} past their time`
        }
        detail={`${countWords(coverage.held, 'item')} would be, and holds keep them · ${percentWords(share(coverage.ruled))} of ${countWords(coverage.items, 'item')} have a rule`}
      />
      <div
        className={css['cover']}
        role="img"
        aria-label={`With a rule: ${numberWords(coverage.ruled)}; by law alone: ${numberWords(coverage.byLaw)}; with neither: ${numberWords(bare)}`}
      >
        <i data-is="rule" style={{ flexGrow: coverage.ruled }} />
        <i data-is="law" style={{ flexGrow: coverage.byLaw }} />
        <i style={{ flexGrow: Math.max(0, bare) }} />
      </div>
      <p className={css['note']}>
        {numberWords(coverage.ruled)} with a rule · {numberWords(coverage.byLaw)} by law alone ·{' '}
        {bare > 0 ? (
          <b className={css['mark']}>◆ {numberWords(bare)} with neither, kept for good</b>
        ) : (
          '✓ none with neither'
        )}
        {coverage.crossed > 0 &&
          ` · of ${countWords(coverage.crossed, 'item')} the law asks for more than it lets: the minimum counts`}
      </p>
      <FigureTable
        columns={[
          'Rule',
          'Keeps',
          { figure: 'Decides' },
          { figure: 'Due' },
          { figure: 'Held' },
          { figure: 'Moved by law' },
        ]}
        rows={(rules.data ?? []).map((r) => {
          const of = inForce.rules.find((t) => t.id === r.id) ?? rehearsed.find((t) => t.id === r.id);
          return {
            key: r.id,
            cells: [
              <>
                <a href={retentionRuleLink(r.id)}>{r.name}</a>{' '}
                {r.stage.state !== 'in force' && <StageTag state={r.stage.state} />}
                {of && of.decides === 0 && (
                  <div className={css['mark']}>
                    ◆{' '}
                    {of.about === 0
                      ? 'Nothing that is held is in it'
                      : 'Others decide wherever it is about something'}
                  </div>
                )}
              </>,
              r.term,
              ...(['decides', 'due', 'held', 'moved'] as const).map((k) => (of ? numberWords(of[k]) : '–')),
            ],
          };
        })}
      />
      <PolicySentence />
    </>
  );
}

/** Where days are told, and when two people agree. */
function PolicySentence() {
  const mayEdit = useMay('retention.put-in-force');
  const names = useRetentionNames();
  const { query, save } = usePlainObject<RetentionPolicy>('retention policy', 1);
  if (!query.data || !names) return null;
  return (
    <RuleSentence
      sentence={retentionPolicySentence(names, query.data.content.archive !== '')}
      content={query.data.content}
      set={(content) => void save(content, 'Saved.')}
      fixed={!mayEdit}
    />
  );
}
