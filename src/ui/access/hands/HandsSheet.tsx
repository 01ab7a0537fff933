import { useQuery } from '@tanstack/react-query';
import type * as handsApi from '../../../pages/api/access/hands/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { personLink } from '../links.ts';
import css from '../access.module.css';

/** What nobody may have together, and who has both now; changes that would make it so are told before they are done. */
export function HandsSheet() {
  const rules = useQuery({
    queryKey: ['access-hands'],
    queryFn: () => request<AnswerOf<typeof handsApi.GET>>('GET', '/api/access/hands'),
  });
  const mayChange = useMay('access.change');
  if (rules.isError && !rules.data)
    return <Failure error={rules.error} onRetry={() => void rules.refetch()} />;
  if (!rules.data) return <Loading what="the rules" />;
  const add = mayChange && (
    <Button kind="primary" onClick={() => setQuery({ new: 'hands' }, 'push')}>
      Say what takes two
    </Button>
  );
  if (rules.data.length === 0)
    return (
      <Empty title="Nothing takes two pairs of hands yet" action={add}>
        Say which two things nobody may have together, such as making payments and approving them. A change
        that would give somebody both is told before it is done.
      </Empty>
    );
  const broken = rules.data.filter((r) => r.count > 0).length;
  const remove = async (id: number) => {
    try {
      await request('DELETE', `/api/access/hands/${id}`, {});
      tell('It is not looked for any more.');
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <>
      <SheetHead
        title={
          broken > 0
            ? `◆ ${countWords(broken, 'rule is', 'rules are')} broken now`
            : '✓ Nobody has what takes two'
        }
        detail="Who has the one is not to have the other"
        actions={add}
      />
      <FigureTable
        columns={['Rule', 'Nobody has', 'Together with', 'Who has both', { unseen: 'Act' }]}
        rows={rules.data.map((r) => ({
          key: r.id,
          cells: [
            r.name,
            r.one,
            r.other,
            r.count === 0 ? (
              '✓ nobody'
            ) : (
              <span className={css['mark']}>
                ◆{' '}
                {r.both.map((p, i) => (
                  <span key={p.key}>
                    {i > 0 && ', '}
                    <a href={personLink(p.key)}>{p.name}</a>
                  </span>
                ))}
                {r.count > r.both.length && ` and ${r.count - r.both.length} more`}
              </span>
            ),
            mayChange && (
              <Button kind="quiet" aria-label={`Take “${r.name}” out`} onClick={() => void remove(r.id)}>
                Take it out
              </Button>
            ),
          ],
        }))}
      />
    </>
  );
}
