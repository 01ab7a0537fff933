import type { ListedFinding } from '../../../server/access/breadth/find-breadth.ts';
import { countWords, numberWords, whenWords } from '../../desk/words.ts';
import { Figure, FigureRow } from '../../parts/Figure.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { BROAD, personLink, placeLink, SOURCES } from '../links.ts';
import { useAccessShelf, useAccessSources } from '../use-access.ts';
import { findingFigures, findingWords } from '../broad/finding-words.ts';
import { useFindings } from '../broad/use-findings.ts';
import css from '../access.module.css';

/** How open the estate is, what is most worth mending, and how fresh that is. */
export function PlacesOverview() {
  const shelf = useAccessShelf();
  const findings = useFindings({ size: '8' });
  const sources = useAccessSources();
  if (shelf.isError && !shelf.data)
    return <Failure error={shelf.error} onRetry={() => void shelf.refetch()} />;
  if (!shelf.data) return <Loading what="the places" />;
  const { estate, directoryRead } = shelf.data;
  if (estate.places === 0 && estate.people === 0)
    return (
      <Empty
        title="Nothing is known of who reaches what"
        action={<a href={`${SOURCES}?new=source`}>Take in where rights are read</a>}
      >
        Begin with the directory that knows people and groups, then take in what tells of places: a library, a
        folder, a database, or a file of who may do what.
      </Empty>
    );
  const wide = findings.data?.round?.counts['wide'] ?? 0;
  const failed = (sources.data ?? []).filter((s) => s.problem !== null);
  return (
    <>
      <SheetHead
        title={
          wide > 0
            ? `◆ ${countWords(wide, 'place')} with sensitive data ${wide === 1 ? 'is' : 'are'} open to most`
            : '✓ No place with sensitive data is open to most'
        }
        detail={
          <>
            {countWords(estate.places, 'place')}, {numberWords(estate.ownPlaces)} of them with grants of their
            own; people and groups as they were read{' '}
            {directoryRead === null ? 'never' : whenWords(directoryRead)}
          </>
        }
      />
      <FigureRow>
        <Figure value={numberWords(estate.people)} words="people" href="/access/people" />
        <Figure value={numberWords(estate.groups)} words="groups" href="/access/people?kind=group" />
        <Figure
          value={numberWords(estate.leaversOpen)}
          words="left, accounts still open"
          href={`${BROAD}?kind=leaver`}
          mark={estate.leaversOpen > 0}
        />
        <Figure value={numberWords(estate.guests)} words="guests" href={`${BROAD}?kind=guest`} />
        <Figure
          value={numberWords(estate.linksWithoutEnd)}
          words={`of ${numberWords(estate.links)} links have no end`}
          href={`${BROAD}?kind=link+without+end`}
          mark={estate.linksWithoutEnd > 0}
        />
      </FigureRow>
      {failed.map((s) => (
        <p key={s.id} className={css['mark']}>
          ◆ <a href={SOURCES}>{s.name}</a> could not be read: {s.problem}
        </p>
      ))}
      {findings.data && findings.data.rows.length > 0 && (
        <>
          <h2 className={css['heading']}>Most worth mending</h2>
          <FigureTable
            columns={['What', 'Why', { figure: 'In numbers' }]}
            rows={findings.data.rows.map((f) => ({
              key: f.id,
              cells: [<FindingLink key="link" finding={f} />, findingWords(f), findingFigures(f)],
            }))}
          />
          <p>
            <a href={BROAD}>All that is too broad</a>
          </p>
        </>
      )}
      {estate.faults.length > 0 && (
        <>
          <h2 className={css['heading']}>What the lines say that cannot be</h2>
          <ul className={css['plain']}>
            {estate.faults.map((f) => (
              <li key={f}>◆ {f}</li>
            ))}
          </ul>
        </>
      )}
    </>
  );
}

/** What a finding is about, opened there. */
export function FindingLink({ finding: f }: { readonly finding: ListedFinding }) {
  const href =
    f.placeKey !== null
      ? f.kind === 'exposed'
        ? placeLink(f.placeKey)
        : `${placeLink(f.placeKey)}?tab=grants`
      : f.whoKey === null
        ? BROAD
        : personLink(f.whoKey);
  return (
    <>
      <a href={href}>
        {f.mark && '◆ '}
        {f.name}
      </a>
      {f.path && <small className={css['dim']}> {f.path}</small>}
    </>
  );
}
