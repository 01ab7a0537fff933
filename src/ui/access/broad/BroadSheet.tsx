import { FINDING_KINDS, type FindingKind } from '../../../core/access/breadth/breadth.ts';
import { FINDING_LIST } from '../../../core/access/breadth/finding-list.ts';
import type { ListedFinding } from '../../../server/access/breadth/find-breadth.ts';
import type { ChangeWish } from '../../../server/access/index/change-answers.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { countWords, whenWords } from '../../desk/words.ts';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty } from '../../parts/states.tsx';
import { makeChange } from '../changes/make-change.ts';
import { personLink, placeLink } from '../links.ts';
import { FindingLink } from '../places/PlacesOverview.tsx';
import { findingFigures, findingWords } from './finding-words.ts';
import { loadFindings, useFindings } from './use-findings.ts';
import css from '../access.module.css';

const SOON_DAYS = 14;

/** The change that mends a finding, where one is known beforehand. */
export function mendingOf(f: ListedFinding, today: Date): ChangeWish | undefined {
  if (f.kind === 'link without end' && f.placeKey !== null && f.link !== undefined)
    return {
      act: 'end link',
      place: f.placeKey,
      link: f.link,
      until: new Date(today.getTime() + SOON_DAYS * 86_400_000).toISOString().slice(0, 10),
    };
  if (f.kind === 'leaver' && f.whoKey !== null) return { act: 'clear', who: [f.whoKey] };
  return undefined;
}

/** Kinds of finding that are about people, of whom a review can ask. */
const REVIEWED = ['guest', 'leaver'] as const;

const MEND_WORDS: Readonly<Partial<Record<FindingKind, string>>> = {
  'link without end': 'End it in two weeks',
  leaver: 'Clear everywhere',
};

/** All that is broader than it has to be, ranked, each with the change that would mend it. */
export function BroadSheet() {
  const list = useList(FINDING_LIST);
  const first = useFindings(list.asked);
  const mayChange = useMay('access.change');
  const mayReview = useMay('access.review');
  const [asked] = list.asked['kind']?.split(',') ?? [];
  const reviewed = REVIEWED.find((k) => k === asked);
  const counts = first.data?.round?.counts ?? {};
  const marks = counts['marks'] ?? 0;
  const columns: readonly Column<ListedFinding>[] = [
    { key: 'name', title: 'What', fills: true, sorts: true, cell: (f) => <FindingLink finding={f} /> },
    { key: 'kind', title: 'Why', width: '190px', cell: (f) => findingWords(f) },
    { key: 'counts', title: 'In numbers', width: '250px', cell: (f) => findingFigures(f) },
    {
      key: 'mend',
      title: 'What would mend it',
      width: '160px',
      cell: (f) => {
        const wish = mendingOf(f, new Date());
        if (!mayChange) return null;
        if (wish)
          return (
            <span className={css['act']}>
              <Button kind="quiet" onClick={() => void makeChange(wish)}>
                {MEND_WORDS[f.kind]}
              </Button>
            </span>
          );
        return f.placeKey !== null ? (
          <a href={`${placeLink(f.placeKey)}?tab=grants`}>Look at its grants</a>
        ) : f.whoKey === null ? null : (
          <a href={personLink(f.whoKey)}>Look at it</a>
        );
      },
    },
  ];
  return (
    <>
      <SheetHead
        title={marks > 0 ? `◆ ${countWords(marks, 'thing')} to mend` : '✓ Nothing needs a hand'}
        detail={
          <>
            Weighed by the people who reach a place and did not use it in 90 days, times the people in it
            whose data is sensitive
            {first.data?.round && ` · counted ${whenWords(first.data.round.counted_at)}`}
          </>
        }
        actions={
          mayReview &&
          reviewed !== undefined && (
            <Button onClick={() => go(`/access/reviews?new=review&kind=${reviewed}`)}>
              Review what these were given
            </Button>
          )
        }
      />
      <DataTable
        label="What is too broad"
        name="access-findings"
        columns={columns}
        queryKey={['access-findings', 'table', list.asked]}
        load={(after) => loadFindings({ ...list.asked, after })}
        rowKey={(f) => String(f.id)}
        rowName={(f) => `${f.name}, ${findingWords(f)}`}
        sort={list.sort}
        onSort={list.onSort}
        onOpen={(f) =>
          go(
            f.placeKey !== null
              ? placeLink(f.placeKey)
              : f.whoKey === null
                ? '/access/broad'
                : personLink(f.whoKey),
          )
        }
        filters={
          <ListFilters
            list={FINDING_LIST}
            shown={list}
            values={{ kind: Object.keys(FINDING_KINDS).filter((k) => (counts[k] ?? 0) > 0) }}
            names={{ kind: (k) => `${FINDING_KINDS[k as FindingKind]} (${counts[k] ?? 0})` }}
          />
        }
        empty={
          list.narrowed ? (
            <Empty title="None of these" action={<Button onClick={list.showAll}>Show all</Button>} />
          ) : (
            <Empty title="Nothing is too broad">It is counted anew whenever something changes.</Empty>
          )
        }
      />
      <p className={css['note']}>
        Sensitive are special categories, health, children, offences, national and passport numbers, and
        passwords. Where no use is known, nobody counts as having used it.
      </p>
    </>
  );
}
