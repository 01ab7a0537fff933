import { SOURCE_KINDS } from '../../../core/holdings/sources/source.ts';
import { SOURCE_LIST } from '../../../core/holdings/sources/source-list.ts';
import type * as sourcesApi from '../../../pages/api/holdings/sources/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ListedSource } from '../../../server/holdings/sources/sources.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, dayWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty } from '../../parts/states.tsx';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { sourceLink, SOURCES, systemLink } from '../links.ts';
import { useSources } from './use-sources.ts';
import css from '../estate.module.css';

const COLUMNS: readonly Column<ListedSource>[] = [
  {
    key: 'name',
    title: 'Source',
    sorts: true,
    fills: true,
    cell: (s) => (
      <>
        {s.name} <span className={css['judged']}>{s.where}</span>
      </>
    ),
  },
  {
    key: 'kind',
    title: 'Kind',
    width: '120px',
    optional: true,
    cell: (s) => SOURCE_KINDS[s.kind].replace(/ \(.*/, ''),
  },
  {
    key: 'system',
    title: 'System',
    width: '150px',
    optional: true,
    cell: (s) =>
      s.systemId === null ? (
        <span className={css['mark']}>◆ none yet</span>
      ) : (
        <a href={systemLink(s.systemId)}>{s.system}</a>
      ),
  },
  {
    key: 'health',
    title: 'Last read',
    width: '160px',
    cell: (s) =>
      s.health && !s.health.ok ? (
        <span className={css['mark']} title={s.health.words}>
          ◆ could not be read
        </span>
      ) : s.readAt ? (
        dayWords(s.readAt)
      ) : (
        'never'
      ),
  },
];

/** All sources: whose they are, and whether they are read. */
export function SourcesSheet() {
  const sources = useSources();
  const list = useList(SOURCE_LIST);
  const mayEdit = useMay('holdings.sources');
  if (sources.data?.rows.length === 0) return <SourcesIntroduction />;
  const all = sources.data?.rows ?? [];
  const unread = all.filter((s) => s.readAt === null).length;
  return (
    <>
      <SheetHead
        title="Sources"
        detail={`${countWords(sources.data?.total ?? all.length, 'source')}${unread > 0 ? ` · ${unread} never read` : ''}`}
        actions={
          mayEdit && (
            <>
              <MenuButton
                label="Take in"
                acts={[
                  { id: 'source', words: 'A source', act: () => go(`${SOURCES}?new=source`) },
                  { id: 'system', words: 'A system', act: () => go(`${SOURCES}?new=system`) },
                ]}
              />
              <Button kind="primary" onClick={() => go(`${SOURCES}?new=listing`)}>
                Find sources
              </Button>
            </>
          )
        }
      />
      <DataTable
        label="Sources"
        name="sources"
        columns={COLUMNS}
        queryKey={['sources', 'table', list.asked]}
        load={(after) =>
          request<AnswerOf<typeof sourcesApi.GET>>(
            'GET',
            `/api/holdings/sources${queryString({ ...list.asked, after })}`,
          )
        }
        rowKey={(s) => s.id}
        rowName={(s) => s.name}
        sort={list.sort}
        onSort={list.onSort}
        onOpen={(s) => go(sourceLink(s.id))}
        filters={<ListFilters list={SOURCE_LIST} shown={list} only={['kind']} />}
        empty={<Empty title="No source is like that">Show all to see the others.</Empty>}
      />
    </>
  );
}

function SourcesIntroduction() {
  const mayEdit = useMay('holdings.sources');
  return (
    <Empty
      title="Systems and sources"
      action={
        mayEdit && (
          <>
            <Button kind="primary" onClick={() => go(`${SOURCES}?new=source`)}>
              Take in a source
            </Button>{' '}
            <Button onClick={() => go(`${SOURCES}?new=listing`)}>Find sources</Button>{' '}
            <Button onClick={() => go(`${SOURCES}?new=system`)}>Take in a system</Button>
          </>
        )
      }
    >
      A system is what the organisation runs, such as the booking or the payroll: it has an owner, a steward
      and a place. A source is where its data lies: a folder, a mailbox, a database, a bucket. Begin with the
      ten that matter most; a listing of an account, or a table, names those that nobody thought of.
    </Empty>
  );
}
