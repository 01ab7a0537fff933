import type * as belowApi from '../../../pages/api/access/places/[key]/below.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { numberWords } from '../../desk/words.ts';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Empty } from '../../parts/states.tsx';
import { placeLink } from '../links.ts';

type Page = AnswerOf<typeof belowApi.GET>;
type Row = Page['rows'][number];

const COLUMNS: readonly Column<Row>[] = [
  {
    key: 'name',
    title: 'Place',
    fills: true,
    cell: (r) => (
      <>
        <a href={placeLink(r.key)}>{r.name}</a>
        {r.path && <small> {r.path}</small>}
      </>
    ),
  },
  {
    key: 'mark',
    title: 'What it has',
    width: '140px',
    cell: (r) => (r.mark === 'own' ? 'its own grants' : 'more than above'),
  },
  {
    key: 'people',
    title: 'Reach it',
    width: '80px',
    align: 'right',
    cell: (r) => numberWords(r.people),
  },
  {
    key: 'more',
    title: 'More',
    width: '80px',
    align: 'right',
    cell: (r) => (r.more > 0 ? `+${numberWords(r.more)}` : ''),
  },
  {
    key: 'less',
    title: 'Fewer',
    width: '80px',
    align: 'right',
    cell: (r) => (r.less > 0 ? `−${numberWords(r.less)}` : ''),
  },
];

/** What below a place has grants of its own, and who reaches that besides, or does not. */
export function BelowTable({ place, on }: { readonly place: string; readonly on: string | undefined }) {
  return (
    <DataTable
      label="What differs below"
      name="access-below"
      columns={COLUMNS}
      queryKey={['access-below', place, on ?? '']}
      load={(after) => request<Page>('GET', `/api/access/places/${place}/below${queryString({ on, after })}`)}
      rowKey={(r) => r.key}
      rowName={(r) => r.name}
      onOpen={(r) => go(placeLink(r.key))}
      empty={<Empty title="Nothing differs">All below it inherits what is granted here.</Empty>}
    />
  );
}
