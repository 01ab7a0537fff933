import { useState } from 'react';
import { todayKind } from '../../core/desk/today-kinds.ts';
import type { ListedItem, TodayPart } from '../../server/desk/today-list.ts';
import { readAgain } from '../desk/changed.ts';
import { go } from '../desk/location.ts';
import { request } from '../desk/request.ts';
import { tell, tellFailure } from '../desk/toasts.ts';
import { countWords, dateWords, dayWords, whenWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { MenuButton, type MenuAct } from '../parts/MenuButton.tsx';
import { Popover } from '../parts/Popover.tsx';
import { SheetHead } from '../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../parts/states.tsx';
import { HandOnDialog } from './HandOnDialog.tsx';
import { PutOffDialog } from './PutOffDialog.tsx';
import { startOfDay } from './start-of-day.ts';
import { changeItem, useToday } from './use-today.ts';
import css from './today.module.css';

const MARKS = { wrong: '◆', news: '◆', open: '○' } as const;

const HEADS: Readonly<
  Record<TodayPart, { readonly some: (n: number) => string; readonly none: string; readonly about: string }>
> = {
  mine: {
    some: (n) => `${countWords(n, 'thing needs', 'things need')} you, by what it costs to miss them`,
    none: '✓ Nothing needs a hand',
    about: 'Leaks, failures, late requests and open decisions show here as they come up.',
  },
  team: {
    some: (n) => `${countWords(n, 'thing is', 'things are')} with somebody else`,
    none: 'Nothing is with others',
    about: 'What is handed on, or one person’s by itself, stands here until it is done.',
  },
  'put off': {
    some: (n) => `${countWords(n, 'thing waits', 'things wait')} for its day, for you alone`,
    none: 'Nothing is put off',
    about: 'What is put off comes back on its day, and at once where it says something else.',
  },
};

/** One part of Today, what is most worth doing first. */
export function TodaySheet({ part }: { readonly part: TodayPart }) {
  const items = useToday();
  const [asked, setAsked] = useState<{ readonly what: 'put off' | 'hand on'; readonly item: ListedItem }>();
  if (items.isError && !items.data)
    return <Failure error={items.error} onRetry={() => void items.refetch()} />;
  if (!items.data) return <Loading what="what needs a hand" />;
  const shown = items.data.filter((i) => i.part === part);
  const head = HEADS[part];
  const close = () => setAsked(undefined);
  return (
    <div className={css['sheet']}>
      <SheetHead
        title={part === 'mine' ? 'Today' : part === 'team' ? 'With others' : 'Put off'}
        detail={`${dateWords(new Date().toISOString())} · ${shown.length === 0 ? 'nothing' : head.some(shown.length)}`}
      />
      {shown.length === 0 ? (
        <Empty title={head.none}>{head.about}</Empty>
      ) : (
        <ul className={css['items']}>
          {shown.map((i) => (
            <Item key={`${i.kind} ${i.key}`} item={i} onAsk={(what) => setAsked({ what, item: i })} />
          ))}
        </ul>
      )}
      {asked?.what === 'put off' && <PutOffDialog item={asked.item} onClose={close} />}
      {asked?.what === 'hand on' && <HandOnDialog item={asked.item} onClose={close} />}
    </div>
  );
}

function Item({
  item: i,
  onAsk,
}: {
  readonly item: ListedItem;
  readonly onAsk: (what: 'put off' | 'hand on') => void;
}) {
  const { tone, words } = todayKind(i.kind) ?? { tone: 'open' as const, words: i.kind };
  return (
    <li data-tone={tone}>
      <span className={css['kind']}>
        {MARKS[tone]} {words}
      </span>
      <a href={i.link}>
        <b>{i.words}</b>
        <span className={css['detail']}>
          {i.detail}
          {i.detail ? ' · ' : ''}
          {whenWords(i.since)}
          {i.with && !i.handedBy && ` · with ${i.with.name}`}
          {i.handedBy && ` · ${i.handedBy.name} handed it to ${i.with?.name ?? ''}`}
          {i.handedBy?.words && `: “${i.handedBy.words}”`}
          {i.putOffUntil && ` · put off until ${dayWords(i.putOffUntil)}`}
        </span>
      </a>
      <Popover label={`Why here: ${i.words}`} words={<When item={i} />} className={css['when']}>
        {() => (
          <table aria-label="Why it stands here" className={css['sum']}>
            <tbody>
              {i.steps.map((s) => (
                <tr key={s.words}>
                  <td>{s.words}</td>
                  <td>{s.value}</td>
                </tr>
              ))}
              <tr>
                <th scope="row">what weighs more stands higher</th>
                <td>{i.weight}</td>
              </tr>
            </tbody>
          </table>
        )}
      </Popover>
      <Acts item={i} onAsk={onAsk} />
    </li>
  );
}

function When({ item: { due } }: { readonly item: ListedItem }) {
  if (due === null) return <span>no day</span>;
  const isOver = Date.parse(due) <= Date.now();
  return (
    <span data-over={isOver || undefined}>{isOver ? `since ${dayWords(due)}` : `by ${dayWords(due)}`}</span>
  );
}

/** What one act does; else where one goes to do it. Everything else stands behind “More”. */
function Acts({
  item: i,
  onAsk,
}: {
  readonly item: ListedItem;
  readonly onAsk: (what: 'put off' | 'hand on') => void;
}) {
  const [busy, setBusy] = useState(false);
  const act = i.act;
  const doIt = async (does: NonNullable<ListedItem['act']>) => {
    setBusy(true);
    try {
      await request('POST', does.path, does.body);
      tell(does.done);
      readAgain([{ object: 'today', id: null }], true);
    } catch (e) {
      tellFailure(e);
    } finally {
      setBusy(false);
    }
  };
  const quick = (done: Promise<void>, said: string, undo?: () => Promise<void>) =>
    void done.then(() => tell(said, undo ? { undo } : {})).catch(tellFailure);
  const putOff = (days: number, words: string): MenuAct => ({
    id: words,
    words: `Put off until ${words}`,
    act: () =>
      quick(
        changeItem('PUT', 'put-off', i, { until: startOfDay(days).toISOString() }),
        `It is put off until ${words}.`,
        () => changeItem('DELETE', 'put-off', i),
      ),
  });
  const seenTo = () => quick(changeItem('DELETE', '', i), 'It is off Today.');
  const goes = todayKind(i.kind)?.does ?? 'Open it';
  // All that there is to read stands here.
  const isHere = i.dismissable && i.link === '/today';
  const toMonday = (8 - new Date().getDay()) % 7 || 7;
  const open: MenuAct = { id: 'open', words: 'Open it', act: () => go(i.link) };
  const more: readonly MenuAct[] = [
    ...(act ? [open] : []),
    ...(i.part === 'put off'
      ? [
          {
            id: 'again',
            words: 'Take it up again',
            act: () => quick(changeItem('DELETE', 'put-off', i), 'It is back.'),
          },
        ]
      : []),
    ...(i.part === 'mine'
      ? [
          putOff(1, 'tomorrow'),
          ...(toMonday > 1 ? [putOff(toMonday, 'Monday')] : []),
          { id: 'put off', words: 'Put off …', act: () => onAsk('put off') },
        ]
      : []),
    ...(i.mayHandOn && i.part !== 'put off' && !i.handedBy
      ? [{ id: 'hand on', words: 'Hand on …', act: () => onAsk('hand on') }]
      : []),
    ...(i.handedBy
      ? [
          {
            id: 'back',
            words: i.part === 'mine' ? 'Give it back' : 'Take it back',
            act: () => quick(changeItem('DELETE', 'hand-on', i), 'It is for everybody again.'),
          },
        ]
      : []),
    ...(i.dismissable && !isHere && i.part === 'mine'
      ? [{ id: 'seen', words: 'It is seen to', act: seenTo }]
      : []),
  ];
  return (
    <span className={css['acts']}>
      {act ? (
        <Button busy={busy} aria-label={`${act.words}: ${i.words}`} onClick={() => void doIt(act)}>
          {act.words}
        </Button>
      ) : isHere ? (
        <Button aria-label={`Seen to: ${i.words}`} onClick={seenTo}>
          Seen to
        </Button>
      ) : (
        <Button aria-label={`${goes}: ${i.words}`} onClick={() => go(i.link)}>
          {goes}
        </Button>
      )}
      <MenuButton label="More" of={i.words} acts={more} />
    </span>
  );
}
