import { useQuery } from '@tanstack/react-query';
import type * as todayApi from '../../pages/api/today.ts';
import type { AnswerOf } from '../../server/http/endpoint.ts';
import type { Account } from '../../core/accounts/authority.ts';
import { todayKind } from '../../core/desk/today-kinds.ts';
import type { TodayItem } from '../../server/desk/today.ts';
import { readAgain } from '../desk/changed.ts';
import { Desk } from '../desk/Desk.tsx';
import { request } from '../desk/request.ts';
import { tellFailure } from '../desk/toasts.ts';
import { countWords, dateWords, whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../parts/states.tsx';
import css from './today.module.css';

const MARKS = { wrong: '◆', news: '◆', open: '○' } as const;

function kindWords(kind: string): string {
  const { tone, words } = todayKind(kind) ?? { tone: 'open', words: kind };
  return `${MARKS[tone]} ${words}`;
}

export function TodayArea({ account }: { readonly account: Account }) {
  return <Desk account={account} area="today" sheet={<TodaySheet />} />;
}

function TodaySheet() {
  const items = useQuery({
    queryKey: ['today'],
    queryFn: () => request<AnswerOf<typeof todayApi.GET>>('GET', '/api/today'),
  });
  if (items.isError && !items.data)
    return <Failure error={items.error} onRetry={() => void items.refetch()} />;
  if (!items.data) return <Loading what="what needs a hand" />;
  return (
    <div className={css['sheet']}>
      <SheetHead
        title="Today"
        detail={`${dateWords(new Date().toISOString())} · ${items.data.length === 0 ? 'nothing needs a hand' : `${countWords(items.data.length, 'thing needs', 'things need')} a hand`}`}
      />
      {items.data.length === 0 ? (
        <Empty title="✓ Nothing needs a hand">
          Leaks, failures and open decisions show here as they come up.
        </Empty>
      ) : (
        <ul className={css['items']}>
          {items.data.map((i) => (
            <li key={`${i.kind} ${i.key}`}>
              <a href={i.link} data-tone={todayKind(i.kind)?.tone}>
                <span className={css['kind']}>{kindWords(i.kind)}</span>
                <b>{i.words}</b>
                <span className={css['detail']}>
                  {i.detail}
                  {` · ${whenWords(i.since)}`}
                </span>
              </a>
              {i.dismissable && <SeenTo item={i} />}
            </li>
          ))}
        </ul>
      )}
    </div>
  );
}

/** Takes off Today what nothing else would. */
function SeenTo({ item: { kind, key, words } }: { readonly item: TodayItem }) {
  const dismiss = () =>
    request('DELETE', '/api/today', { kind, key })
      .then(() => readAgain([{ object: 'today', id: null }], true))
      .catch(tellFailure);
  return (
    <Button kind="quiet" aria-label={`Seen to: ${words}`} onClick={() => void dismiss()}>
      Seen to
    </Button>
  );
}
