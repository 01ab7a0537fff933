import { countWords, dayWords, whenWords } from '../desk/words.ts';
import { useBoards } from '../evidence/offers.ts';
import { Shelf } from '../parts/Shelf.tsx';
import { useSinceVisit, useToday, useTrends, type TodayShow } from './use-today.ts';
import css from './today.module.css';

const PARTS: readonly (readonly [TodayShow, string])[] = [
  ['mine', 'Needs a hand'],
  ['team', 'With others'],
  ['put off', 'Put off'],
];

/** The parts of Today, and what was looked at so that nothing else stands there. */
export function TodayRegister({ show }: { readonly show: TodayShow }) {
  const items = useToday().data;
  const since = useSinceVisit().data;
  const boards = useBoards().data;
  return (
    <>
      <Shelf
        entries={[
          ...PARTS.map(([part, name]) => ({
            name,
            count: items?.filter((i) => i.part === part).length,
            href: part === 'mine' ? '/today' : `/today?show=${part.replace(' ', '+')}`,
            chosen: show === part,
          })),
          {
            name: 'What changed',
            count: since && since.came.length + since.ended.length,
            href: '/today?show=changed',
            chosen: show === 'changed',
          },
          { name: 'Boards', count: boards?.length, href: '/evidence/boards', chosen: false },
        ]}
      />
      {since && !since.isLong && (
        <p className={css['checked']}>You were here last {whenWords(since.since)}.</p>
      )}
      <CheckedLately />
    </>
  );
}

function CheckedLately() {
  const checked = useTrends().data?.checked ?? [];
  if (checked.length === 0) return null;
  const now = checked.filter((c) => c.count > 0);
  const longer = checked.filter((c) => c.count === 0);
  return (
    <div className={css['checked']}>
      {now.length > 0 && (
        <p>
          Checked in the last day: {now.map((c) => countWords(c.count, c.one, c.many)).join(', ')}. Nothing
          else needs you.
        </p>
      )}
      {longer.length > 0 && (
        <p>
          Not in the last day:{' '}
          {longer
            .map((c) => `${c.many} (${c.lastAt ? `last ${dayWords(c.lastAt)}` : 'never yet'})`)
            .join(', ')}
          .
        </p>
      )}
    </div>
  );
}
