import { useState } from 'react';
import { EVIDENCE_LIST } from '../../../core/protection/evidence/evidence-list.ts';
import type * as oneApi from '../../../pages/api/protection/evidence/[id]/index.ts';
import type * as listApi from '../../../pages/api/protection/evidence/index.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import type { KeptEvidence } from '../../../server/protection/evidence/evidence.ts';
import { useMay } from '../../desk/account-context.ts';
import { queryString, request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, dayWords, sizeWords, whenWords } from '../../desk/words.ts';
import { ListFilters } from '../../lists/ListFilters.tsx';
import { useList } from '../../lists/use-list.ts';
import { Button } from '../../parts/Button.tsx';
import { DataTable } from '../../parts/DataTable.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty } from '../../parts/states.tsx';
import { useHandlingRules } from '../handling/use-handling.ts';
import { eventLink, handlingLink } from '../links.ts';
import { ReasonDialog } from './ReasonDialog.tsx';
import css from '../protection.module.css';

type Doing = 'open' | 'give back' | 'delete';

const PATH = '/api/protection/evidence';
const STATE = {
  kept: 'kept',
  'giving back': '○ on its way back',
  'given back': '✓ given back',
  deleted: 'deleted',
};

/** What rules kept of data in motion: opened with a reason, given back, or deleted. */
export function EvidenceSheet() {
  const may = useMay('protection.evidence');
  const list = useList(EVIDENCE_LIST);
  const rules = useHandlingRules();
  const [total, setTotal] = useState<number>();
  const [doing, setDoing] = useState<{ readonly does: Doing; readonly row: KeptEvidence }>();
  const [turn, setTurn] = useState(0);
  if (!may)
    return (
      <SheetHead
        title="Kept of data in motion"
        detail="Your role does not include opening what is kept of data in motion."
      />
    );
  const work = async (reason: string) => {
    if (!doing) return;
    const { does, row } = doing;
    const path = `${PATH}/${row.id}`;
    if (does === 'open') {
      const { name, base64 } = await request<AnswerOf<typeof oneApi.POST>>('POST', path, { reason });
      saveFile(name, base64);
      tell(`${name} was opened; the ledger has your reason.`);
    } else if (does === 'give back') {
      await request('PUT', path, { reason });
      tell('Its device puts it back as soon as it comes in.');
    } else {
      await request('DELETE', path, { reason });
      tell('It is deleted, for good.');
    }
    setTurn(turn + 1);
  };
  return (
    <>
      <SheetHead
        title="Kept of data in motion"
        detail={`${total === undefined ? '…' : countWords(total, 'copy or file', 'copies and files')}${list.narrowed ? ' match' : ''} · sealed where they were stopped; whoever opens one says why`}
      />
      <DataTable<KeptEvidence>
        label="Kept of data in motion"
        name="evidence"
        columns={[
          {
            ...{ key: 'at', title: 'Kept', width: '112px' },
            cell: (k) => <a href={eventLink(k.eventAt, k.event)}>{whenWords(k.keptAt)}</a>,
          },
          {
            ...{ key: 'what', title: 'What', width: '92px' },
            cell: (k) => (k.what === 'quarantine' ? 'quarantine' : 'copy'),
          },
          {
            ...{ key: 'name', title: 'File', fills: true },
            cell: (k) => (
              <span className={css['name']} title={sizeWords(k.size)}>
                {k.name || 'text'}
              </span>
            ),
          },
          { key: 'person', title: 'Person', width: '110px', cell: (k) => k.person.split('@')[0] },
          {
            ...{ key: 'rule', title: 'By', width: '130px', optional: true },
            cell: (k) => <a href={handlingLink(k.rule)}>{k.ruleName ?? k.rule}</a>,
          },
          {
            ...{ key: 'state', title: 'State', width: '118px' },
            cell: (k) => (
              <span title={k.state === 'kept' ? `Kept until ${dayWords(k.keepUntil)}` : ''}>
                {STATE[k.state]}
              </span>
            ),
          },
          {
            ...{ key: 'acts', title: 'Do', width: '190px' },
            cell: (k) =>
              (k.state === 'kept' || k.state === 'giving back') && (
                <span className={css['says']}>
                  {k.state === 'kept' && (
                    <Button
                      aria-label={`Open ${k.name || 'text'}`}
                      onClick={() => setDoing({ does: 'open', row: k })}
                    >
                      Open
                    </Button>
                  )}
                  {k.state === 'kept' && k.what === 'quarantine' && (
                    <Button
                      aria-label={`Give back ${k.name}`}
                      onClick={() => setDoing({ does: 'give back', row: k })}
                    >
                      Give back
                    </Button>
                  )}
                  <Button
                    aria-label={`Delete ${k.name || 'text'}`}
                    onClick={() => setDoing({ does: 'delete', row: k })}
                  >
                    Delete
                  </Button>
                </span>
              ),
          },
        ]}
        queryKey={['evidence', list.asked, turn]}
        load={async (after) => {
          const page = await request<AnswerOf<typeof listApi.GET>>(
            'GET',
            `${PATH}${queryString({ ...list.asked, after })}`,
          );
          if (page.total !== undefined) setTotal(page.total);
          return page;
        }}
        rowKey={(k) => String(k.id)}
        rowName={(k) => `${k.name || 'text'}, ${k.person}`}
        filters={
          <ListFilters
            list={EVIDENCE_LIST}
            shown={list}
            only={['what', 'state', 'rule', ...(list.wish.filters['person'] ? ['person'] : [])]}
            values={{ rule: (rules.data ?? []).map((r) => r.id) }}
            names={{ rule: (id) => rules.data?.find((r) => r.id === id)?.name ?? id }}
          />
        }
        empty={
          <Empty title={list.narrowed ? 'Nothing that is kept matches' : 'Nothing is kept'}>
            {list.narrowed
              ? 'Widen the filter.'
              : 'A handling rule can keep a sealed copy, or move the file that it stops. Say so in its sentence.'}
          </Empty>
        }
      />
      {doing && (
        <ReasonDialog
          title={TITLES[doing.does]}
          act={ACTS[doing.does]}
          lost={
            doing.does === 'delete' ? `${doing.row.name || 'The text'} is lost; its event stays.` : undefined
          }
          send={work}
          onClose={() => setDoing(undefined)}
        />
      )}
    </>
  );
}

const TITLES: Readonly<Record<Doing, string>> = {
  open: 'Open what was kept',
  'give back': 'Give the file back',
  delete: 'Delete what was kept',
};
const ACTS: Readonly<Record<Doing, string>> = {
  open: 'Open it',
  'give back': 'Give it back',
  delete: 'Delete it for good',
};

function saveFile(name: string, base64: string): void {
  const bytes = Uint8Array.from(atob(base64), (c) => c.charCodeAt(0));
  const url = URL.createObjectURL(new Blob([bytes]));
  Object.assign(document.createElement('a'), { href: url, download: name }).click();
  setTimeout(() => URL.revokeObjectURL(url), 10_000);
}
