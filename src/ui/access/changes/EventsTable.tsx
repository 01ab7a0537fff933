import { useQuery } from '@tanstack/react-query';
import { EVENT_ACTS, EVENT_KINDS, EVENT_LIST } from '../../../core/access/history/event-list.ts';
import type * as eventsApi from '../../../pages/api/access/events/index.ts';
import type * as initiatorsApi from '../../../pages/api/access/events/initiators.ts';
import type { ListedEvent } from '../../../server/access/history/access-events.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { queryString, request } from '../../desk/request.ts';
import { whenWords } from '../../desk/words.ts';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Empty } from '../../parts/states.tsx';
import { changeLink, personLink, placeLink } from '../links.ts';
import css from '../access.module.css';

const SIGN = { add: '+', take: '−', set: '·' } as const;

const COLUMNS: readonly Column<ListedEvent>[] = [
  { key: 'at', title: 'When', width: '130px', sorts: true, cell: (e) => whenWords(e.at) },
  {
    key: 'what',
    title: 'What',
    width: '120px',
    cell: (e) => (
      <span title={EVENT_ACTS[e.act]}>
        {SIGN[e.act]} {EVENT_KINDS[e.kind]}
      </span>
    ),
  },
  {
    key: 'words',
    title: 'To whom',
    fills: true,
    cell: (e) => (
      <span className={css['cut']} title={e.words}>
        {e.who ? <a href={personLink(e.who.key)}>{e.words}</a> : e.words}
      </span>
    ),
  },
  {
    key: 'place',
    title: 'Place',
    width: '150px',
    cell: (e) =>
      e.place && (
        <a className={css['cut']} href={placeLink(e.place.key)}>
          {e.place.name}
        </a>
      ),
  },
  { key: 'by', title: 'By', width: '120px', optional: true, cell: (e) => e.initiator || 'not told' },
  {
    key: 'change',
    title: 'Change',
    width: '70px',
    optional: true,
    cell: (e) => (e.change === null ? '' : <a href={changeLink(e.change)}>{e.change}</a>),
  },
];

/** What was given and taken away; of one place, or one person, where that is fixed. */
export function EventsTable({
  name,
  fixed = {},
}: {
  readonly name: string;
  readonly fixed?: Readonly<Record<string, string>>;
}) {
  const list = useList(EVENT_LIST);
  const asked = { ...list.asked, ...fixed };
  const initiators = useQuery({
    queryKey: ['access-events', 'initiators'],
    queryFn: () => request<AnswerOf<typeof initiatorsApi.GET>>('GET', '/api/access/events/initiators'),
  });
  return (
    <DataTable
      label="What was given and taken away"
      name={name}
      columns={COLUMNS}
      queryKey={['access-events', asked]}
      load={(after) =>
        request<AnswerOf<typeof eventsApi.GET>>(
          'GET',
          `/api/access/events${queryString({ ...asked, after })}`,
        )
      }
      rowKey={(e) => e.id}
      rowName={(e) => `${EVENT_ACTS[e.act]}: ${e.words}${e.place ? ` at ${e.place.name}` : ''}`}
      sort={list.sort}
      onSort={list.onSort}
      exportHref={`/api/access/events/export.csv${queryString(asked)}`}
      filters={
        <ListFilters
          list={EVENT_LIST}
          shown={list}
          only={['kind', 'act', 'strength', 'initiator', 'from', 'to']}
          values={{ initiator: initiators.data ?? [], kind: Object.keys(EVENT_KINDS) }}
          names={{ kind: (k) => EVENT_KINDS[k as keyof typeof EVENT_KINDS] }}
        />
      }
      empty={
        list.narrowed ? (
          <Empty title="Nothing of that kind" action={<Button onClick={list.showAll}>Show all</Button>} />
        ) : (
          <Empty title="Nothing was given or taken away">
            As long as changes are kept, nothing changed here.
          </Empty>
        )
      }
    />
  );
}
