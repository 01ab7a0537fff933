import { useState } from 'react';
import type * as websitesHostTrackersApi from '../../../pages/api/websites/[host]/trackers/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { TRACKER_LIST } from '../../../core/websites/trackers/tracker-list.ts';
import { lifetimeWords } from '../../../core/websites/trackers/tracker.ts';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import { VISITOR_HEADS, VISITOR_WORDS, VISITORS } from '../../../core/websites/trackers/visitor.ts';
import type { Verdict } from '../../../core/websites/trackers/leak.ts';
import type { SiteDetail } from '../../../server/websites/sites/site-detail.ts';
import type { ListedTracker } from '../../../server/websites/trackers/trackers.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { Slot } from '../../parts/Slot.tsx';
import { Empty } from '../../parts/states.tsx';
import { DecideDialog } from './DecideDialog.tsx';
import { useDecide } from './decide.ts';
import { siteLink } from '../links.ts';
import css from '../websites.module.css';

export function TrackersTab({ site }: { readonly site: SiteDetail }) {
  const { query } = useDeskLocation();
  const mayEdit = useMay('websites.edit');
  const decide = useDecide(site.host);
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [deciding, setDeciding] = useState<
    { ids: readonly number[]; names: string; purpose: string } | undefined
  >();
  const list = useList(TRACKER_LIST);
  const show = list.wish.filters['show'] ?? 'all';
  const { text } = list.wish;
  if (!site.sweep)
    return (
      <Empty title="Nobody knows yet what runs here">
        A sweep opens every page in a real browser as five visitors: before any choice, after refusing, after
        accepting, with a choice of its own, and with Global Privacy Control sent. It lists all that can
        recognise a visitor, with who put it there.
      </Empty>
    );
  const choose = (ids: readonly number[], names: string, purpose: string, proposed: boolean) => {
    const essential = site.purposes.find((p) => p.code === purpose)?.essential;
    if (essential && !proposed) setDeciding({ ids, names, purpose });
    else void decide(ids, purpose, '');
  };
  const chooseSelected = (purpose: string) => {
    choose([...selected].map(Number), `${selected.size} trackers`, purpose, false);
    setSelected(new Set());
  };
  const visitors = site.sweep.visitors;
  const untried = new Set(site.sweep.notes.filter((n) => n.untried).map((n) => n.visitor));
  const columns: readonly Column<ListedTracker>[] = [
    {
      key: 'name',
      title: 'Name',
      sorts: true,
      cell: (t) => (
        <span className={css['name']} title={t.name}>
          {t.name}
        </span>
      ),
    },
    {
      key: 'kind',
      title: 'Kind',
      sorts: true,
      optional: true,
      cell: (t) => <span className={css['nowrap']}>{KIND_WORDS[t.kind] ?? t.kind}</span>,
    },
    {
      key: 'host',
      title: 'Reaches',
      sorts: true,
      optional: true,
      cell: (t) => (
        <span className={css['reach']} title={t.host}>
          {t.host}
        </span>
      ),
    },
    {
      key: 'purpose',
      title: 'Purpose',
      sorts: true,
      cell: (t) => <Purpose site={site} tracker={t} fixed={!mayEdit} onChoose={choose} />,
    },
    {
      key: 'lifetime',
      title: 'Lives',
      sorts: true,
      align: 'right',
      optional: true,
      cell: (t) => <span className={css['nowrap']}>{lifetimeWords(t, t.lifetime)}</span>,
    },
    {
      key: 'pages',
      title: 'Pages',
      sorts: true,
      align: 'right',
      optional: true,
      hidden: true,
      cell: (t) => t.pages,
    },
    ...VISITORS.filter((v) => visitors.includes(v)).map((v) => ({
      key: v,
      title: VISITOR_HEADS[v],
      about: VISITOR_WORDS[v],
      align: 'centre' as const,
      width: '46px',
      cell: (t: ListedTracker) =>
        untried.has(v) ? <span className={css['untried']}>not tried</span> : <Mark verdict={t.verdicts[v]} />,
    })),
  ];
  return (
    <>
      {site.counts.leaks === 0 && site.counts.all > 0 && show === 'all' && (
        <p className={site.counts.unsorted > 0 ? css['notes'] : css['good']}>
          {site.counts.unsorted > 0
            ? `○ No leak among the trackers that have a purpose; ${countWords(site.counts.unsorted, 'has', 'have')} none yet.`
            : '✓ Nothing runs without permission.'}
        </p>
      )}
      {untried.size > 0 && (
        <p className={css['notes']}>
          ○ No notice was found to answer, so{' '}
          {[...untried].map((v) => (v ? VISITOR_WORDS[v].toLowerCase() : '')).join(' and ')} could not be
          tried. Put a notice in force and install its line, then sweep again.
        </p>
      )}
      <DataTable
        label="Trackers"
        name="trackers"
        columns={columns}
        queryKey={['trackers', site.host, site.sweep.id, list.asked]}
        load={(after) =>
          request<AnswerOf<typeof websitesHostTrackersApi.GET>>(
            'GET',
            `/api${siteLink(site.host)}/trackers${queryString({ ...list.asked, after })}`,
          )
        }
        rowKey={(t) => String(t.id)}
        rowName={(t) => `${t.name}, ${t.kind}, ${purposeName(site.purposes, t.purpose)}`}
        sort={list.sort}
        onSort={list.onSort}
        opened={query.get('tracker') ?? undefined}
        onOpen={(t) => setQuery({ tracker: String(t.id), sweep: null }, 'push')}
        {...(mayEdit ? { selected, onSelect: setSelected } : {})}
        exportHref={list.exportHref(`/api${siteLink(site.host)}/trackers.csv`)}
        bulk={
          <>
            <span>are</span>
            {site.purposes.map((p) => (
              <Button key={p.code} onClick={() => chooseSelected(p.code)}>
                {p.name}
              </Button>
            ))}
          </>
        }
        filters={
          <ListFilters
            list={TRACKER_LIST}
            shown={list}
            only={['show']}
            rare={['attempts', 'conflicts']}
            counts={{ show: { ...site.counts, '': site.counts.all } }}
          />
        }
        empty={
          <Empty
            title={
              show === 'leaks'
                ? 'No leak'
                : show === 'unsorted'
                  ? 'Everything is sorted'
                  : text
                    ? `Nothing is called “${text}”`
                    : 'No tracker was seen'
            }
          >
            {show === 'leaks' ? 'Nothing was seen running without permission.' : undefined}
          </Empty>
        }
      />
      <p className={css['legend']}>
        <span>
          <Mark verdict="allowed" /> seen, allowed
        </span>
        {site.counts.unsorted > 0 && (
          <span>
            <Mark verdict="presumed leak" /> a leak, unless it is essential
          </span>
        )}
        {site.counts.leaks > 0 && (
          <span>
            <Mark verdict="leak" /> seen without permission
          </span>
        )}
        {site.counts.unsorted > 0 && (
          <span>
            <Mark verdict="unsorted" /> seen, not sorted
          </span>
        )}
        {site.counts.attempts > 0 && (
          <span>
            <Mark verdict="attempt" /> tried, the browser refused
          </span>
        )}
        <span>blank: not seen</span>
      </p>
      {deciding && (
        <DecideDialog
          names={deciding.names}
          onClose={() => setDeciding(undefined)}
          onDecide={async (because) => {
            await decide(deciding.ids, deciding.purpose, because, true);
            setDeciding(undefined);
          }}
        />
      )}
    </>
  );
}

/** Shorter, for the column. */
const KIND_WORDS: Readonly<Partial<Record<ListedTracker['kind'], string>>> = {
  'local storage': 'local store',
  'session storage': 'session store',
  'cache storage': 'cache',
  'link decoration': 'link',
};

function Purpose({
  site,
  tracker,
  fixed,
  onChoose,
}: {
  readonly site: SiteDetail;
  readonly tracker: ListedTracker;
  readonly fixed: boolean;
  readonly onChoose: (ids: readonly number[], names: string, purpose: string, proposed: boolean) => void;
}) {
  const words = purposeName(site.purposes, tracker.purpose);
  return (
    <span
      data-unsorted={tracker.purpose === null || undefined}
      data-proposed={!tracker.decided || undefined}
      className={css['purpose']}
    >
      {tracker.conflict && (
        <span className={css['leak']} title="Decided differently on another site">
          ◆{' '}
        </span>
      )}
      <Slot
        label={`Purpose of ${tracker.name}`}
        words={words}
        title={
          tracker.decided || tracker.purpose === null
            ? undefined
            : `Proposed, ${Math.round(tracker.confidence * 100)}% sure. Open the row for the reasons.`
        }
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: tracker.purpose ?? '',
          options: site.purposes.map((p) => ({ value: p.code, words: p.name })),
          set: (p) => onChoose([tracker.id], tracker.name, p, p === tracker.purpose),
        }}
      />
    </span>
  );
}

const MARKS: Readonly<Record<Verdict['verdict'], readonly [string, string]>> = {
  'not seen': ['', 'not seen'],
  allowed: ['●', 'seen, allowed'],
  leak: ['◆', 'seen without permission'],
  'presumed leak': ['◈', 'seen without permission, unless it is essential'],
  attempt: ['△', 'tried without permission; the browser refused it'],
  unsorted: ['○', 'seen, not sorted'],
};

export function Mark({ verdict }: { readonly verdict: Verdict['verdict'] | undefined }) {
  const [mark, words] = MARKS[verdict ?? 'not seen'];
  return (
    <span className={css['mark']} data-verdict={verdict} role="img" aria-label={words} title={words}>
      {mark}
    </span>
  );
}
