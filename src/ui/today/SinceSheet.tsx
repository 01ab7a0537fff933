import { todayKind } from '../../core/desk/today-kinds.ts';
import type { PastItem } from '../../server/desk/since-visit.ts';
import { useMay } from '../desk/account-context.ts';
import { countWords, whenWords } from '../desk/words.ts';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../parts/states.tsx';
import { useSinceVisit } from './use-today.ts';
import css from './today.module.css';

/** What became other since somebody was here. */
export function SinceSheet() {
  const since = useSinceVisit();
  const mayRead = useMay('ledger.read');
  if (since.isError && !since.data)
    return <Failure error={since.error} onRetry={() => void since.refetch()} />;
  if (!since.data) return <Loading what="what changed" />;
  const { came, ended, changed, isLong } = since.data;
  return (
    <div className={css['sheet']}>
      <SheetHead
        title="What changed"
        detail={`${isLong ? 'In two weeks' : `Since you were here, ${whenWords(since.data.since)}`}: ${countWords(came.length, 'thing')} came, ${countWords(ended.length, 'thing')} ended`}
      />
      {came.length + ended.length + changed.length === 0 && (
        <Empty title="Nothing changed">Nobody changed anything, and nothing came or ended.</Empty>
      )}
      <Past title="Came up" items={came} />
      <Past title="Is done" items={ended} mark="✓" />
      {changed.length > 0 && (
        <section className={css['past']}>
          <h2>What others changed</h2>
          <ul>
            {changed.map((c) => (
              <li key={c.object}>
                {c.words}: {countWords(c.changes, 'change')},{' '}
                {c.objects === 1 ? 'to one' : `to ${c.objects} of them`}
              </li>
            ))}
          </ul>
          {mayRead && <a href="/evidence/ledger">Each of them stands in the ledger</a>}
        </section>
      )}
    </div>
  );
}

function Past({
  title,
  items,
  mark,
}: {
  readonly title: string;
  readonly items: readonly PastItem[];
  readonly mark?: string;
}) {
  if (items.length === 0) return null;
  return (
    <section className={css['past']}>
      <h2>{title}</h2>
      <ul aria-label={title}>
        {items.map((i, n) => (
          <li key={n}>
            {mark ?? (todayKind(i.kind)?.tone === 'open' ? '○' : '◆')} <a href={i.link}>{i.words}</a>{' '}
            <span className={css['detail']}>
              {todayKind(i.kind)?.words ?? i.kind} · {whenWords(i.at)}
            </span>
          </li>
        ))}
      </ul>
    </section>
  );
}
