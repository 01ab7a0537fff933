import { useState } from 'react';
import { NEWS, STANDINGS, STORE_LIST } from '../../../core/holdings/listings/listing-list.ts';
import { SOURCE_KINDS } from '../../../core/holdings/sources/source.ts';
import type * as storesApi from '../../../pages/api/holdings/listings/[id]/stores/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ListingView } from '../../../server/holdings/listings/listings.ts';
import type { ListedStore } from '../../../server/holdings/listings/stores.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { sizeWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Empty } from '../../parts/states.tsx';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { sourceLink } from '../links.ts';
import { SetAside } from './SetAside.tsx';
import { TakeStores } from './TakeStores.tsx';
import css from '../estate.module.css';

const COLUMNS: readonly Column<ListedStore>[] = [
  {
    key: 'name',
    title: 'Store',
    sorts: true,
    fills: true,
    cell: (s) => (
      <span className={css['name']} title={`${s.name}: ${s.where}`}>
        {s.name}
      </span>
    ),
  },
  {
    key: 'kind',
    title: 'Kind',
    width: '86px',
    cell: (s) => SOURCE_KINDS[s.kind].replace(/ \(.*/, ''),
    optional: true,
  },
  { key: 'team', title: 'Team', width: '104px', cell: (s) => s.team || '–', optional: true },
  {
    key: 'region',
    title: 'Region',
    width: '90px',
    cell: (s) => s.region || '–',
    optional: true,
    hidden: true,
  },
  {
    key: 'where',
    title: 'Where it lies',
    width: '180px',
    cell: (s) => s.where,
    optional: true,
    hidden: true,
  },
  { key: 'system', title: 'Belongs to', width: '112px', cell: (s) => s.system?.name ?? '–', optional: true },
  {
    key: 'bytes',
    title: 'Size',
    width: '66px',
    align: 'right',
    cell: (s) => (s.bytes === null ? '–' : sizeWords(s.bytes)),
    optional: true,
  },
  {
    key: 'news',
    title: 'Since last time',
    width: '118px',
    cell: (s) =>
      s.news === 'same' ? (
        ''
      ) : (
        <span className={s.news === 'gone' ? css['mark'] : undefined} title={s.changes.join('; ')}>
          {s.news === 'gone' ? '◆ ' : ''}
          {s.changes[0] ?? NEWS[s.news]}
        </span>
      ),
  },
  {
    key: 'standing',
    title: 'Standing',
    width: '94px',
    cell: (s) =>
      s.source === null ? (
        <span title={s.reason ?? undefined}>{STANDINGS[s.standing]}</span>
      ) : (
        <a href={sourceLink(s.source)}>{STANDINGS.source}</a>
      ),
  },
];

/** What a listing names: chosen in the table, taken into the register or set aside many at once. */
export function StoreTable({
  id,
  name,
  counts,
}: {
  readonly id: string;
  readonly name: string;
  readonly counts: ListingView['counts'];
}) {
  const list = useList(STORE_LIST);
  const may = useMay('holdings.sources');
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const [shown, setShown] = useState<ReadonlyMap<string, ListedStore>>(new Map());
  const [act, setAct] = useState<'take' | 'aside'>();
  const chosen = [...selected].flatMap((s) => shown.get(s) ?? []);
  const done = () => {
    setAct(undefined);
    setSelected(new Set());
  };
  return (
    <>
      <DataTable
        label={`Stores of ${name}`}
        name="stores"
        columns={COLUMNS}
        queryKey={['stores', id, list.asked]}
        load={async (after) => {
          const page = await request<AnswerOf<typeof storesApi.GET>>(
            'GET',
            `/api/holdings/listings/${id}/stores${queryString({ ...list.asked, after })}`,
          );
          setShown((before) => new Map([...before, ...page.rows.map((r) => [r.id, r] as const)]));
          return page;
        }}
        rowKey={(s) => s.id}
        rowName={(s) => `${s.name}, ${STANDINGS[s.standing]}`}
        sort={list.sort}
        onSort={list.onSort}
        onOpen={(s) => s.source !== null && go(sourceLink(s.source))}
        {...(may ? { selected, onSelect: setSelected } : {})}
        bulk={
          <>
            <Button kind="primary" onClick={() => setAct('take')}>
              Take in
            </Button>
            <Button onClick={() => setAct('aside')}>Set aside</Button>
          </>
        }
        filters={
          <ListFilters
            list={STORE_LIST}
            shown={list}
            only={['standing', 'news']}
            rare={['aside', 'back', 'changed', 'gone', 'new']}
            counts={{
              standing: { open: counts.open, source: counts.source, aside: counts.aside },
              news: counts.news,
            }}
          />
        }
        empty={<Empty title="No store is like that">Show all to see the others.</Empty>}
      />
      {act === 'take' && (
        <TakeStores listing={id} stores={chosen} onDone={done} onClose={() => setAct(undefined)} />
      )}
      {act === 'aside' && (
        <SetAside listing={id} stores={chosen} onDone={done} onClose={() => setAct(undefined)} />
      )}
    </>
  );
}
