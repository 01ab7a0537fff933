import { countWords, dateWords, dayWords, numberWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { disposalLink } from '../links.ts';
import { useDisposals } from '../use-retention.ts';
import { DISPOSAL_WORDS } from './disposal-words.ts';

/** What waits for somebody's word, by when, and what went before. */
export function DisposalsOverview() {
  const disposals = useDisposals();
  if (disposals.isError && !disposals.data)
    return <Failure error={disposals.error} onRetry={() => void disposals.refetch()} />;
  if (!disposals.data) return <Loading what="the disposals" />;
  const waiting = disposals.data.filter((d) => d.state === 'asked');
  const items = waiting.reduce((n, d) => n + d.items, 0);
  if (disposals.data.length === 0)
    return (
      <Empty title="Nothing is to go yet">
        Once a rule in force has something due, it is gathered here by rule and owner, and nothing goes before
        those agree whom the rule asks.
      </Empty>
    );
  return (
    <>
      <SheetHead
        title={
          waiting.length === 0
            ? '✓ Nothing waits for a word'
            : `${countWords(items, 'item')} in ${countWords(waiting.length, 'disposal')} wait for a word`
        }
        detail="Each is looked at once more at the moment it goes: a hold that came, or a change, keeps it"
      />
      <FigureTable
        columns={['Rule', 'Owner', { figure: 'Items' }, 'State', { figure: 'Agreed' }, 'Answer by']}
        rows={disposals.data.map((d) => ({
          key: d.id,
          cells: [
            <a href={disposalLink(d.id)}>{d.rule}</a>,
            d.owner,
            numberWords(d.items),
            `${DISPOSAL_WORDS[d.state]}${d.certified ? ', certified' : ''}, ${dayWords(d.madeAt)}`,
            d.needed === 0 ? 'asks nobody' : `${d.agreed} of ${d.needed}`,
            d.state === 'asked' ? (d.answerBy ? dateWords(d.answerBy) : 'yours to say') : '',
          ],
        }))}
      />
    </>
  );
}
