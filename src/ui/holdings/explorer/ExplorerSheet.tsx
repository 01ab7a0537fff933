import { useState } from 'react';
import { may } from '../../../core/accounts/authority.ts';
import type * as itemsApi from '../../../pages/api/holdings/items/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { ListedItemRow } from '../../../server/holdings/items/explorer.ts';
import { AREAS } from '../../areas.ts';
import { ItemActs, mayActOnItems } from '../../desk/ItemActs.tsx';
import { go, setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request } from '../../desk/request.ts';
import { countWords, dateWords, numberWords, sizeWords } from '../../desk/words.ts';
import { useAccount, useMay } from '../../desk/account-context.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { Matrix } from '../../parts/Matrix.tsx';
import { MenuButton } from '../../parts/MenuButton.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { itemLink, SOURCES, SURVEYS } from '../links.ts';
import { KeepLens } from '../lenses/KeepLens.tsx';
import { useLenses } from '../lenses/use-lenses.ts';
import { CompareLens } from './CompareLens.tsx';
import { LensSentence } from './LensSentence.tsx';
import { PlaceMap } from './PlaceMap.tsx';
import { PlaceTree } from './PlaceTree.tsx';
import { onlyChanged, useFigures, useLens, useLensVocabulary, type LookedLens } from './use-lens.ts';
import css from '../estate.module.css';

/** Columns of the matrix, the commonest kinds of data. */
const COLUMNS = 7;
const ROWS = 9;

/** What is held, through a lens: every number opens to the items behind it. */
export function ExplorerSheet() {
  const lens = useLens();
  const vocabulary = useLensVocabulary();
  const figures = useFigures(lens);
  const lenses = useLenses();
  const mayKeep = useMay('holdings.judge');
  const maySurvey = useMay('holdings.survey');
  const account = useAccount();
  const mayCompare = useAccount().scope?.['source'] === undefined;
  const [keeping, setKeeping] = useState(false);
  const [compare, setCompare] = useState(false);
  const comparing = compare || lens.compared.since !== undefined;
  const { query } = useDeskLocation();
  const places = query.get('places');
  if (figures.isError && !figures.data)
    return <Failure error={figures.error} onRetry={() => void figures.refetch()} />;
  if (!figures.data || !vocabulary) return <Loading what="what we hold" />;
  const { data } = figures;
  const everything = lens.line === 'everything';
  if (everything && data.items === 0 && data.faults.length === 0 && !lens.compared.which)
    return <NothingRead />;
  const kept = lenses.data?.find((l) => l.line === lens.line);
  const name = (fact: string, value: string) => vocabulary.value(fact, value) ?? value;
  // What kind of document something is stands at the left already.
  const kinds = new Set(data.documents.map((d) => d.value));
  const wanted = new Set(
    [...lens.form.data, ...data.data.map((d) => d.value).filter((d) => !kinds.has(d))].slice(
      0,
      COLUMNS + lens.form.data.length,
    ),
  );
  const columns = [...wanted].slice(0, COLUMNS).map((key) => ({ key, name: name('data', key) }));
  const rows = data.matrix.slice(0, ROWS).map(({ document }) => ({
    key: document,
    name: document === '' ? 'no known kind' : name('document', document),
  }));
  const cells = new Map(
    data.matrix.flatMap((r) => r.data.map((d) => [`${r.document} ${d.value}`, d.count] as const)),
  );
  const acts = [
    ...(maySurvey && data.sources.length > 0
      ? [
          {
            id: 'survey',
            words: 'A survey that reads it again',
            act: () =>
              go(
                `${SURVEYS}${queryString({ new: 'survey', source: data.sources.map((s) => s.value).join(',') })}`,
              ),
          },
        ]
      : []),
    ...AREAS.flatMap((a) => a.lensActs ?? [])
      .filter((a) => may(account, a.action))
      .map(({ words, link }) => ({ id: words, words, act: () => go(link(lens.line)) })),
  ];
  return (
    <>
      <SheetHead
        title={kept?.name ?? (everything ? 'What we hold' : 'A lens of your own')}
        detail={`${countWords(data.items, 'item')} in ${countWords(data.sources.length, 'source')}`}
        actions={
          <>
            {mayCompare && !comparing && <Button onClick={() => setCompare(true)}>Compare</Button>}
            <MenuButton
              label="Export"
              acts={[
                { id: 'csv', words: 'As a table (CSV)', act: () => download(lens.line, 'csv') },
                { id: 'jsonl', words: 'For a program (JSON lines)', act: () => download(lens.line, 'jsonl') },
              ]}
            />
            {acts.length > 0 && <MenuButton label="Make of it" acts={acts} />}
            {mayKeep && !kept && !everything && (
              <Button kind="primary" onClick={() => setKeeping(true)}>
                Keep this lens
              </Button>
            )}
          </>
        }
      />
      <LensSentence lens={lens} vocabulary={vocabulary} figures={data} />
      {data.faults.map((f) => (
        <p key={f} role="alert" className={css['mark']}>
          ◆ {f} Nothing is in this lens until that is mended.
        </p>
      ))}
      {comparing && <CompareLens lens={lens} vocabulary={vocabulary} onClose={() => setCompare(false)} />}
      {rows.length > 0 && (
        <div className={css['matrix']}>
          <Matrix
            corner="Kind of document"
            label="Kinds of documents and of data"
            rows={rows}
            columns={columns}
            value={(row, column) => cells.get(`${row} ${column}`) ?? 0}
            chosen={{
              row: lens.form.documents.length === 1 ? lens.form.documents[0] : undefined,
              column: lens.form.data.length === 1 ? lens.form.data[0] : undefined,
            }}
            onChoose={({ row, column }) =>
              lens.set({
                documents: row ? [row] : [],
                data: column === undefined ? [] : [column],
              })
            }
          />
        </div>
      )}
      <p className={css['note']}>
        Items that hold the kind of data above and are the kind of document at the left. Choose a cell, a row
        or a column; everything follows.{' '}
        {(['tree', 'map'] as const).map((as) => (
          <Button
            key={as}
            kind="quiet"
            aria-pressed={places === as}
            onClick={() => setQuery({ places: places === as ? null : as })}
          >
            {places === as ? 'Hide where they lie' : `Where they lie, as a ${as}`}
          </Button>
        ))}
      </p>
      {places === 'tree' && <PlaceTree lens={lens} vocabulary={vocabulary} />}
      {places === 'map' && <PlaceMap lens={lens} vocabulary={vocabulary} />}
      <ItemTable
        lens={lens}
        data={lens.form.data[0]}
        nameOf={(d) => name('data', d)}
        placeOf={(v) => name('place', v)}
      />
      {keeping && <KeepLens line={lens.line} onClose={() => setKeeping(false)} />}
    </>
  );
}

function download(line: string, format: 'csv' | 'jsonl'): void {
  location.assign(`/api/holdings/items/export${queryString({ lens: line, format })}`);
}

function NothingRead() {
  const may = useMay('holdings.sources');
  return (
    <Empty
      title="Nothing was read yet"
      action={
        may && (
          <Button kind="primary" onClick={() => go(`${SOURCES}?new=source`)}>
            Take in a source
          </Button>
        )
      }
    >
      Take in a source, such as a share or a mailbox, and survey it: what it will take is told before anything
      is read. What is found then stands here, by kind of document and of data, down to the single match.
    </Empty>
  );
}

interface ItemTableProps {
  readonly lens: LookedLens;
  /** The kind of data that is looked at, whose matches have a column. */
  readonly data: string | undefined;
  readonly nameOf: (detector: string) => string;
  readonly placeOf: (value: string) => string;
}

function ItemTable({ lens: { line, compared }, data, nameOf, placeOf }: ItemTableProps) {
  const only = onlyChanged(compared);
  const { query } = useDeskLocation();
  const order = query.get('order') ?? 'people';
  const mayAct = mayActOnItems(useAccount());
  const [selected, setSelected] = useState<ReadonlySet<string>>(new Set());
  const columns: readonly Column<ListedItemRow>[] = [
    {
      key: 'name',
      title: 'Item',
      fills: true,
      cell: (r) => (
        <span className={css['name']} title={r.name}>
          {r.name}
        </span>
      ),
    },
    {
      key: 'place',
      title: 'Place',
      optional: true,
      cell: (r) => (
        <span className={css['place']} title={r.place}>
          {placeOf(r.place === '' ? r.source : `${r.source}/${r.place}`)}
        </span>
      ),
    },
    { key: 'owner', title: 'Owner', optional: true, hidden: true, cell: (r) => r.owner },
    ...(data
      ? [
          {
            key: `matches:${data}`,
            title: nameOf(data),
            align: 'right' as const,
            sorts: true,
            cell: (r: ListedItemRow) =>
              numberWords(r.findings.find((f) => f.detector === data)?.matches ?? 0),
          },
        ]
      : [
          {
            key: 'holds',
            title: 'Holds',
            cell: (r: ListedItemRow) =>
              r.unreadable ? (
                <span className={css['mark']} title={r.problem ?? ''}>
                  ◆ could not be read
                </span>
              ) : (
                <HeldWords
                  names={r.findings.filter((f) => f.detector !== r.document).map((f) => nameOf(f.detector))}
                />
              ),
          },
        ]),
    { key: 'people', title: 'People', align: 'right', sorts: true, cell: (r) => numberWords(r.people) },
    {
      key: 'size',
      title: 'Size',
      align: 'right',
      sorts: true,
      optional: true,
      hidden: true,
      cell: (r) => sizeWords(r.size),
    },
    {
      key: 'changed',
      title: 'Changed',
      sorts: true,
      cell: (r) => <span className={css['date']}>{r.changed ? dateWords(r.changed) : 'not known'}</span>,
    },
  ];
  return (
    <DataTable
      label="Items in this lens"
      name="items"
      filters={
        <h2 className={css['heading']}>The items, those with the most {orderWords(order, nameOf)} first</h2>
      }
      columns={columns}
      queryKey={['items', 'page', line, order, only]}
      load={(after) =>
        request<AnswerOf<typeof itemsApi.GET>>(
          'GET',
          `/api/holdings/items${queryString({ lens: line, order, after, size: '60', ...only })}`,
        )
      }
      rowKey={(r) => r.id}
      rowName={(r) => r.name}
      sort={{ key: order, order: 'down' }}
      onSort={({ key }) => setQuery({ order: key === 'people' ? null : key })}
      onOpen={(r) => go(itemLink(r.id, line))}
      selected={selected}
      onSelect={mayAct ? setSelected : undefined}
      bulk={<ItemActs items={[...selected].map(Number)} onDone={() => setSelected(new Set())} />}
      empty={
        <Empty title="No item is in this lens">Take out a condition, or choose another kind above.</Empty>
      }
    />
  );
}

function orderWords(order: string, nameOf: (detector: string) => string): string {
  if (order.startsWith('matches:')) return `matches of ${nameOf(order.slice('matches:'.length))}`;
  return order === 'people' ? 'people' : order === 'size' ? 'bytes' : 'recent change';
}

function HeldWords({ names }: { readonly names: readonly string[] }) {
  const words = names.slice(0, 3).join(', ') + (names.length > 3 ? ` and ${names.length - 3} more` : '');
  return (
    <span className={css['holds']} title={names.join(', ')}>
      {words}
    </span>
  );
}
