import { useState } from 'react';
import { dayText } from '../../../core/text/day.ts';
import type { ChangeWish } from '../../../server/access/index/change-answers.ts';
import type { GrantView } from '../../../server/access/index/place-answers.ts';
import type { PlaceSheet } from '../../../server/access/place-sheet.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery } from '../../desk/location.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { makeChange } from '../changes/make-change.ts';
import { personLink, placeLink } from '../links.ts';
import { Strength } from '../Strength.tsx';
import { useGrants } from '../use-access.ts';
import css from '../access.module.css';

/** What is given at a place and above it, as far as that counts here; those given here can be taken away. */
export function GrantsTab({ place, on }: { readonly place: PlaceSheet; readonly on: string | undefined }) {
  const grants = useGrants(place.key, on);
  const mayChange = useMay('access.change') && on === undefined;
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set());
  if (grants.isError) return <Failure error={grants.error} onRetry={() => void grants.refetch()} />;
  if (!grants.data) return <Loading what="the grants" />;
  if (grants.data.length === 0)
    return <Empty title="Nothing is given">Neither here nor above it is anything given to anybody.</Empty>;
  const isNamed = (g: GrantView) => g.is === 'file system' && /^(?:user|group):\d/.test(g.words);
  const takes = (g: GrantView) => mayChange && g.here && (g.line !== null || isNamed(g));
  const toggle = (n: number) => {
    const next = new Set(chosen);
    if (!next.delete(n)) next.add(n);
    setChosen(next);
  };
  const taken = grants.data.filter((g) => chosen.has(g.n));
  const lines = taken.flatMap((g) => g.line ?? []);
  const instead = lines.flatMap((l) => (l.type === 'grant' && !l.deny ? [l.to] : []));
  const narrower: ChangeWish = { act: 'narrow', place: place.key, instead };
  const wish = (): ChangeWish =>
    lines.length > 0
      ? { act: 'take', lines }
      : { act: 'list', place: place.key, take: taken.map((g) => g.words), add: [] };
  return (
    <>
      <FigureTable
        columns={[
          { unseen: 'Choose' },
          'To whom',
          'What',
          'Where',
          { figure: 'Used it in 90 days' },
          'Given',
          'Ends',
        ]}
        rows={grants.data.map((g) => ({
          key: g.n,
          cells: [
            takes(g) ? (
              <input
                type="checkbox"
                aria-label={`Choose ${g.to.name}, ${g.strength ?? ''}`}
                checked={chosen.has(g.n)}
                onChange={() => toggle(g.n)}
              />
            ) : null,
            <ToWhom key="to" grant={g} />,
            <>
              {g.is === 'denial' && <span className={css['mark']}>◆ denied: </span>}
              {g.is === 'link' && 'link, '}
              {g.is === 'owner' ? 'owns it' : <Strength is={g.strength} />}
            </>,
            g.here ? 'here' : <a href={placeLink(g.at.key)}>{g.at.name}</a>,
            g.to.people === null ? '' : <UsedBy key="used" grant={g} />,
            g.given === null ? (g.by ?? '') : `${whenWords(g.given)}${g.by === null ? '' : `, ${g.by}`}`,
            g.until === null ? (
              g.is === 'link' ? (
                <span className={css['mark']}>◆ no end</span>
              ) : (
                ''
              )
            ) : (
              dayText(g.until)
            ),
          ],
        }))}
      />
      {mayChange && (
        <p className={css['acts']}>
          <Button disabled={taken.length === 0} onClick={() => void makeChange(wish())}>
            {taken.length === 0
              ? 'Choose what to take away'
              : `Rehearse taking ${countWords(taken.length, 'grant')} away`}
          </Button>{' '}
          <Button disabled={instead.length === 0} onClick={() => void makeChange(narrower)}>
            Rehearse the group that uses it in their stead
          </Button>
        </p>
      )}
    </>
  );
}

/** How many of a group used it, and on to who reaches it through the group. */
function UsedBy({ grant: { to, used } }: { readonly grant: GrantView }) {
  const people = numberWords(to.people ?? 0);
  return (
    <>
      {numberWords(used)} of{' '}
      {to.is === 'group' && to.key !== null ? (
        <button
          type="button"
          className={css['through']}
          aria-label={`Who reaches it through ${to.name}`}
          onClick={() => setQuery({ tab: null, via: to.key }, 'push')}
        >
          {people}
        </button>
      ) : (
        people
      )}
    </>
  );
}

function ToWhom({ grant: { to } }: { readonly grant: GrantView }) {
  const words = to.is === 'group' ? `${to.name} (${numberWords(to.people ?? 0)})` : to.name;
  return to.key === null ? <>{words}</> : <a href={personLink(to.key)}>{words}</a>;
}
