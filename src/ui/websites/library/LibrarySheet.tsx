import { useRef, useState } from 'react';
import type * as importApi from '../../../pages/api/websites/library/import.ts';
import type * as websitesLibraryApi from '../../../pages/api/websites/library/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { KNOWN_TRACKER_LIST } from '../../../core/websites/trackers/known-tracker-list.ts';
import { purposeName } from '../../../core/websites/notice/purpose.ts';
import type { ListedKnown } from '../../../server/websites/library/known-trackers.ts';
import { useMay } from '../../desk/account-context.ts';
import { setQuery, useDeskLocation } from '../../desk/location.ts';
import { queryString, request, RequestError } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable, type Column } from '../../parts/DataTable.tsx';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty } from '../../parts/states.tsx';
import { usePurposes } from './use-purposes.ts';
import css from '../websites.module.css';

const MATCH_WORDS = { exact: 'this name', wildcard: 'names like it', expression: 'an expression' } as const;

/** What the organisation knows of trackers on all its sites: it proposes their purpose at the next sweep. */
export function LibrarySheet() {
  const { query } = useDeskLocation();
  const mayEdit = useMay('websites.edit');
  const purposes = usePurposes().data ?? [];
  const list = useList(KNOWN_TRACKER_LIST);
  const { text } = list.wish;
  const [total, setTotal] = useState<number>();
  const columns: readonly Column<ListedKnown>[] = [
    {
      key: 'name',
      title: 'Name',
      sorts: true,
      cell: (k) => (
        <span className={css['name']} title={k.name}>
          {k.name}
        </span>
      ),
    },
    { key: 'match', title: 'Fits', optional: true, cell: (k) => MATCH_WORDS[k.match] },
    { key: 'kind', title: 'Kind', optional: true, cell: (k) => k.kind ?? 'any' },
    {
      key: 'domain',
      title: 'Reaches',
      sorts: true,
      optional: true,
      cell: (k) => <span className={css['reach']}>{k.domain || 'anywhere'}</span>,
    },
    {
      key: 'provider',
      title: 'Provider',
      sorts: true,
      optional: true,
      cell: (k) => <span className={css['reach']}>{k.provider}</span>,
    },
    { key: 'purpose', title: 'Purpose', sorts: true, cell: (k) => purposeName(purposes, k.purpose) },
    { key: 'lifetime', title: 'Lives', optional: true, hidden: true, cell: (k) => k.lifetime },
  ];
  return (
    <>
      <SheetHead
        title="Library of known trackers"
        detail={`${total === undefined ? '' : `${countWords(total, 'entry', 'entries')} · `}proposes a purpose wherever a sweep sees one of them`}
        actions={mayEdit && <Acts />}
      />
      <DataTable
        label="Known trackers"
        name="library"
        columns={columns}
        queryKey={['library', list.asked]}
        load={async (after) => {
          const page = await request<AnswerOf<typeof websitesLibraryApi.GET>>(
            'GET',
            `/api/websites/library${queryString({ ...list.asked, after })}`,
          );
          setTotal(page.total);
          return page;
        }}
        rowKey={(k) => String(k.id)}
        rowName={(k) => `${k.name}, ${purposeName(purposes, k.purpose)}`}
        opened={query.get('entry') ?? undefined}
        onOpen={(k) => setQuery({ entry: String(k.id) }, 'push')}
        exportHref="/api/websites/library/export.csv"
        sort={list.sort}
        onSort={list.onSort}
        filters={<ListFilters list={KNOWN_TRACKER_LIST} shown={list} only={[]} />}
        empty={
          <Empty title={text ? `Nothing is called “${text}”` : 'The library is empty'}>
            {text
              ? undefined
              : 'Press New entry, or take in a CSV or JSON file. What you decide about trackers is kept with each site; the library says it once for all of them.'}
          </Empty>
        }
      />
      <p className={css['legend']}>
        <a href="/api/websites/library/export.json" download>
          The whole library as JSON
        </a>
      </p>
    </>
  );
}

function Acts() {
  const file = useRef<HTMLInputElement>(null);
  const [busy, setBusy] = useState(false);
  const [wrong, setWrong] = useState<RequestError>();
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    setBusy(true);
    try {
      const base64 = await toBase64(chosen);
      const { taken, replaced } = await request<AnswerOf<typeof importApi.POST>>(
        'POST',
        '/api/websites/library/import',
        {
          name: chosen.name,
          base64,
        },
      );
      setWrong(undefined);
      tell(`${countWords(taken, 'entry', 'entries')} taken in, ${replaced} replaced.`);
    } catch (e) {
      if (e instanceof RequestError) setWrong(e);
    } finally {
      setBusy(false);
      if (file.current) file.current.value = '';
    }
  };
  return (
    <>
      <input
        ref={file}
        type="file"
        accept=".csv,.json,text/csv,application/json"
        hidden
        aria-label="File of known trackers"
        onChange={(e) => void take(e.target.files?.[0])}
      />
      <Button busy={busy} onClick={() => file.current?.click()}>
        Take in a file
      </Button>
      <Button kind="primary" onClick={() => setQuery({ entry: 'new' }, 'push')}>
        New entry
      </Button>
      {wrong && (
        <div role="alert" className={css['refused']}>
          <p>◆ {wrong.message}</p>
          <ul>
            {wrong.refusal.fields.slice(0, 8).map((f) => (
              <li key={f.field + f.message}>
                {f.field}: {f.message}
              </li>
            ))}
          </ul>
        </div>
      )}
    </>
  );
}

async function toBase64(file: File): Promise<string> {
  const bytes = new Uint8Array(await file.arrayBuffer());
  let text = '';
  for (let at = 0; at < bytes.length; at += 8192)
    text += String.fromCharCode(...bytes.subarray(at, at + 8192));
  return btoa(text);
}
