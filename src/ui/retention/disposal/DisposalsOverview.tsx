import { countWords, dateWords, dayWords, numberWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { disposalLink } from '../links.ts';
import { useDisposals } from '../use-retention.ts';
import { DISPOSAL_WORDS } from './disposal-words.ts';
import css from '../retention.module.css';

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
      <table className={css['table']}>
        <thead>
          <tr>
            <th scope="col">Rule</th>
            <th scope="col">Owner</th>
            <th scope="col" className={css['number']}>
              Items
            </th>
            <th scope="col">State</th>
            <th scope="col" className={css['number']}>
              Agreed
            </th>
            <th scope="col">Answer by</th>
          </tr>
        </thead>
        <tbody>
          {disposals.data.map((d) => (
            <tr key={d.id}>
              <td>
                <a href={disposalLink(d.id)}>{d.rule}</a>
              </td>
              <td>{d.owner}</td>
              <td className={css['number']}>{numberWords(d.items)}</td>
              <td>
                {DISPOSAL_WORDS[d.state]}
                {d.certified && ', certified'}, {dayWords(d.madeAt)}
              </td>
              <td className={css['number']}>
                {d.needed === 0 ? 'asks nobody' : `${d.agreed} of ${d.needed}`}
              </td>
              <td>{d.state === 'asked' ? (d.answerBy ? dateWords(d.answerBy) : 'yours to say') : ''}</td>
            </tr>
          ))}
        </tbody>
      </table>
    </>
  );
}
