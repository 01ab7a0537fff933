import { useState } from 'react';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { RemoveDialog } from '../../parts/RemoveDialog.tsx';
import { SheetHead } from '../../parts/SheetHead.tsx';
import { Empty, Failure, Loading } from '../../parts/states.tsx';
import { PROGRAMS } from '../links.ts';
import { eventWords } from './NewHook.tsx';
import { useHook, useHooks, type OpenHook } from './use-programs.ts';

type Call = OpenHook['calls'][number];

/** A webhook: what it is told of, and what became of each call. */
export function HookSheet({ id }: { readonly id: number }) {
  const open = useHook(id);
  const kinds = useHooks(true).data?.kinds ?? [];
  const mayEdit = useMay('programs.edit');
  const [isStopping, setStopping] = useState(false);
  if (open.isError) return <Failure error={open.error} onRetry={() => void open.refetch()} />;
  if (!open.data) return <Loading what="the webhook" />;
  const { hook, calls } = open.data;
  const ask = async (path: string, done: string, body?: unknown) => {
    try {
      await request('POST', `/api/accounts/hooks/${id}/${path}`, body);
      tell(done);
      await open.refetch();
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <>
      <SheetHead
        title={hook.name}
        detail={`${hook.url} is told of ${eventWords(hook.events, kinds)}, since ${whenWords(hook.madeAt)}${hook.madeBy ? `, by ${hook.madeBy}` : ''}${hook.stoppedAt ? `; stopped ${whenWords(hook.stoppedAt)}` : ''}`}
        actions={
          mayEdit &&
          !hook.stoppedAt && (
            <>
              <Button onClick={() => setStopping(true)}>Stop it …</Button>
              <Button kind="primary" onClick={() => void ask('try', 'A trial is on its way.')}>
                Try it
              </Button>
            </>
          )
        }
      />
      {hook.paused && <p>◆ {hook.paused}</p>}
      {calls.length === 0 ? (
        <Empty title="Nothing was sent yet">
          What happens is sent within seconds of its sealing in the ledger.
        </Empty>
      ) : (
        <section aria-label="Calls">
          <FigureTable
            columns={['Event', 'Queued', 'State', { figure: 'Tries' }, { unseen: 'Acts' }]}
            rows={calls.map((c) => ({
              key: c.id,
              cells: [
                c.entry === null ? 'a trial' : <EntryLink entry={c.entry} />,
                whenWords(c.queuedAt),
                stateWords(c),
                c.attempts,
                mayEdit && !hook.stoppedAt && (c.state === 'failed' || c.state === 'unclear') && (
                  <Button onClick={() => void ask('again', 'It is sent again.', { call: c.id })}>
                    Again
                  </Button>
                ),
              ],
            }))}
          />
        </section>
      )}
      {isStopping && (
        <RemoveDialog
          name={hook.name}
          verb="Stop"
          lost="It is told nothing any more, what waits included; what was sent stays to be read."
          onRemove={async () => {
            await request('DELETE', `/api/accounts/hooks/${id}`);
            tell(`${hook.name} is told nothing any more.`);
            go(PROGRAMS);
          }}
          onClose={() => setStopping(false)}
        />
      )}
    </>
  );
}

function EntryLink({ entry }: { readonly entry: string }) {
  const href = `/evidence/ledger?entry=${entry}`;
  return (
    <a
      href={href}
      onClick={(e) => {
        e.preventDefault();
        go(href);
      }}
    >
      entry {entry}
    </a>
  );
}

function stateWords({ state, error, endedAt, nextAt }: Call): string {
  switch (state) {
    case 'sent':
      return `○ taken ${endedAt ? whenWords(endedAt) : ''}`;
    case 'waiting':
      return `waits${error ? `: ${error}` : ''}${nextAt ? ` Next ${whenWords(nextAt)}.` : ''}`;
    case 'sending':
      return 'on its way';
    default:
      return `◆ ${error ?? 'it may not have arrived'}`;
  }
}
