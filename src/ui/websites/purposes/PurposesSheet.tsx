import { useQuery, useQueryClient } from '@tanstack/react-query';
import type * as usesApi from '../../../pages/api/websites/purpose-uses.ts';
import type { Purpose } from '../../../core/websites/notice/purpose.ts';
import { isUsed, newCode, PurposeList, renameWords } from '../../../core/websites/notice/purpose-list.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, numberWords } from '../../desk/words.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Slot } from '../../parts/Slot.tsx';
import { Failure, Loading } from '../../parts/states.tsx';
import { usePurposes } from '../library/use-purposes.ts';
import shared from '../websites.module.css';
import css from './purposes.module.css';

/** What trackers can be for, in the order in which visitors are asked, with what each change would touch. */
export function PurposesSheet() {
  const purposes = usePurposes();
  const uses = useQuery({
    queryKey: ['purpose-uses'],
    queryFn: () => request<AnswerOf<typeof usesApi.GET>>('GET', '/api/websites/purpose-uses'),
  });
  const fixed = !useMay('websites.edit');
  const client = useQueryClient();
  if (purposes.isError) return <Failure error={purposes.error} onRetry={() => void purposes.refetch()} />;
  if (!purposes.data || !uses.data) return <Loading what="the purposes" />;
  const list = purposes.data;
  const send = (next: readonly Purpose[], saw: readonly Purpose[]) =>
    request('PUT', '/api/websites/purposes', { purposes: next, saw });
  const say = async (next: readonly Purpose[]) => {
    try {
      await send(next, list);
      tell('The purposes are so from now on.', { undo: async () => void (await send(list, next)) });
    } catch (e) {
      tellFailure(e);
    } finally {
      await client.invalidateQueries({ queryKey: ['purposes'] });
      await client.invalidateQueries({ queryKey: ['purpose-uses'] });
    }
  };
  const problem = (next: readonly Purpose[]) => PurposeList.safeParse(next).error?.issues[0]?.message ?? '';
  const change = (code: string, over: Partial<Purpose>) =>
    list.map((p) => (p.code === code ? { ...p, ...over } : p));
  const moved = (at: number, by: number) => {
    const next = [...list];
    const [taken] = next.splice(at, 1);
    if (taken) next.splice(at + by, 0, taken);
    return next;
  };
  const added = (name: string): Purpose[] => [
    ...list,
    { code: newCode(name, list), name: name.trim(), essential: false, shares: false },
  ];
  return (
    <>
      <SheetHead
        title="Purposes"
        detail={`${countWords(list.length, 'purpose')} · what trackers can be for, in the order in which visitors are asked`}
        actions={
          !fixed && (
            <Slot
              label="Add a purpose"
              words="Add a purpose"
              edit={{
                kind: 'text',
                most: 60,
                value: '',
                hint: 'No notice asks for it until it is put into one; then visitors are asked again.',
                check: (t) => (t.trim() === '' ? '' : problem(added(t))),
                set: (t) => t.trim() !== '' && problem(added(t)) === '' && void say(added(t)),
              }}
            />
          )
        }
      />
      <table className={shared['plain']} aria-label="Purposes">
        <thead>
          <tr>
            <th>Purpose</th>
            <th>Asked</th>
            <th>Data goes to others</th>
            <th>Trackers</th>
            <th>Tags</th>
            <th>Known</th>
            <th>Notices</th>
            <th>Records</th>
            {!fixed && <th>Order</th>}
          </tr>
        </thead>
        <tbody>
          {list.map((p, i) => {
            const use = uses.data[p.code] ?? {
              trackers: 0,
              known: 0,
              tags: 0,
              notices: [],
              records: 0,
              versions: 0,
            };
            return (
              <tr key={p.code}>
                <td>
                  <Slot
                    label={`Name of ${p.name}`}
                    words={p.name}
                    fixed={fixed}
                    edit={{
                      kind: 'text',
                      most: 60,
                      value: p.name,
                      hint: renameWords(use),
                      check: (name) => problem(change(p.code, { name })),
                      set: (name) => void say(change(p.code, { name: name.trim() })),
                    }}
                  />
                </td>
                <td>{p.essential ? 'never, it is told' : 'yes'}</td>
                <td>
                  {p.essential ? (
                    '–'
                  ) : (
                    <Slot
                      label={`Whether data of ${p.name} goes to others`}
                      words={p.shares ? 'yes, for their own use' : 'no'}
                      fixed={fixed}
                      edit={{
                        kind: 'choice',
                        value: p.shares ? 'yes' : 'no',
                        options: [
                          { value: 'no', words: 'no' },
                          {
                            value: 'yes',
                            words: 'yes, for their own use',
                            detail: 'Global Privacy Control refuses it where the law has it so',
                          },
                        ],
                        set: (v) => void say(change(p.code, { shares: v === 'yes' })),
                      }}
                    />
                  )}
                </td>
                <td>{numberWords(use.trackers)}</td>
                <td>{numberWords(use.tags)}</td>
                <td>{numberWords(use.known)}</td>
                <td title={use.notices.join(', ')}>{use.notices.length}</td>
                <td>{numberWords(use.records)}</td>
                {!fixed && (
                  <td className={css['order']}>
                    <button
                      type="button"
                      aria-label={`Move ${p.name} up`}
                      disabled={i === 0}
                      onClick={() => void say(moved(i, -1))}
                    >
                      ↑
                    </button>
                    <button
                      type="button"
                      aria-label={`Move ${p.name} down`}
                      disabled={i === list.length - 1}
                      onClick={() => void say(moved(i, 1))}
                    >
                      ↓
                    </button>
                    {!isUsed(use) && !p.essential && (
                      <button
                        type="button"
                        aria-label={`Take out ${p.name}`}
                        onClick={() => void say(list.filter((o) => o.code !== p.code))}
                      >
                        ✕
                      </button>
                    )}
                  </td>
                )}
              </tr>
            );
          })}
        </tbody>
      </table>
      <p className={shared['dim']}>
        A purpose keeps its code <code>{list.map((p) => p.code).join(', ')}</code> whatever it is called:
        marks in pages and records point at it. One can be taken out once nothing points at it.
      </p>
    </>
  );
}
