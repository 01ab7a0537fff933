import { dayText } from '../../core/text/day.ts';
import type { PairView, WayStep } from '../../server/access/index/place-answers.ts';
import { personLink, placeLink } from './links.ts';
import css from './access.module.css';

const BETWEEN: Readonly<Record<WayStep['is'], string>> = {
  person: '',
  group: 'is in',
  everyone: 'is one of',
  strength: 'which is granted',
  owner: 'is its',
  link: 'has a',
  place: 'at',
};

/** How somebody comes to a place: the leading way step by step, the others in a line each, and what stands against them. */
export function PairWays({ pair }: { readonly pair: PairView }) {
  const { found, ways, words } = pair;
  const [first, ...others] = ways;
  return (
    <>
      {first ? (
        <Chain steps={first.steps} isDirect={first.steps.length === 3} />
      ) : (
        <p>No grant, no group and no link leads {pair.person.name} here.</p>
      )}
      {found.strength === null && first && <p>◆ None of it counts: they cannot see it.</p>}
      {others.length > 0 && (
        <details>
          <summary>{others.length === 1 ? 'One other way' : `${others.length} other ways`}</summary>
          <ul className={css['plain']}>
            {others.map((w) => (
              <li key={w.steps.map((s) => s.words).join('>')}>
                {w.steps.map((s) => s.words).join(' › ')}
                {w.beaten && ', denied'}
              </li>
            ))}
          </ul>
        </details>
      )}
      <p className={css['note']}>
        {found.denials.length === 0
          ? 'Nothing denies it.'
          : words.filter((w) => w.includes('it is denied')).join(' ')}{' '}
        {found.closed ? 'Their account is closed.' : 'Their account is open'}
        {!found.closed && (pair.left === null ? '.' : `, their work ended on ${dayText(pair.left)}.`)}{' '}
        {found.stoppedAt !== null && words.find((w) => w.startsWith('They do not get past'))}
        {found.unknown !== null && `Nobody can say for certain: ${found.unknown}.`}
      </p>
    </>
  );
}

function Chain({ steps, isDirect }: { readonly steps: readonly WayStep[]; readonly isDirect: boolean }) {
  return (
    <ol className={css['chain']}>
      {steps.flatMap((s, i) => {
        const between = isDirect && s.is === 'strength' ? 'is granted' : i === 0 ? '' : BETWEEN[s.is];
        const link = s.key === null ? null : s.is === 'place' ? placeLink(s.key) : personLink(s.key);
        return [
          ...(between === ''
            ? []
            : [
                <li key={`${i}-`} data-link>
                  {between}
                </li>,
              ]),
          <li key={i}>{link ? <a href={link}>{s.words}</a> : s.words}</li>,
        ];
      })}
    </ol>
  );
}
