import { useState } from 'react';
import type { ListedEvidence } from '../../../server/obligations/work/evidence.ts';
import { useMay } from '../../desk/account-context.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { dateWords, whenWords } from '../../desk/words.ts';
import { sendFile } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { FreezeFigure } from './FreezeFigure.tsx';
import css from '../obligations.module.css';

/** Files that stand behind a measure, with their digest and how long they count. */
export function EvidenceList({
  id,
  evidence,
}: {
  readonly id: string;
  readonly evidence: readonly ListedEvidence[];
}) {
  const mayWork = useMay('obligations.work');
  const [adding, setAdding] = useState(false);
  const [freezing, setFreezing] = useState(false);
  const path = `/api/obligations/measures/${encodeURIComponent(id)}/evidence`;
  const today = new Date().toISOString().slice(0, 10);
  const remove = async (of: number) => {
    try {
      await request('DELETE', `${path}/${of}`, {});
      tell('It counts no more; the ledger keeps its digest.');
    } catch (error) {
      tellFailure(error);
    }
  };
  return (
    <>
      {evidence.length > 0 && (
        <FigureTable
          columns={['Evidence', 'SHA-256', 'Counts until', 'Added', { unseen: 'Act' }]}
          rows={evidence.map((e) => ({
            key: e.id,
            cells: [
              <>
                <a href={`${path}/${e.id}`}>{e.name}</a>
                {e.link !== null && (
                  <small>
                    {' '}
                    from <a href={e.link}>here</a>
                  </small>
                )}
              </>,
              <code title={e.hash}>{e.hash.slice(0, 12)}…</code>,
              e.until === null ? (
                'no end'
              ) : e.until < today ? (
                <span className={css['mark']}>◆ {dateWords(e.until)}</span>
              ) : (
                dateWords(e.until)
              ),
              `${whenWords(e.addedAt)}${e.addedBy ? `, ${e.addedBy}` : ''}`,
              mayWork && (
                <Button kind="quiet" aria-label={`Take “${e.name}” out`} onClick={() => void remove(e.id)}>
                  Take it out
                </Button>
              ),
            ],
          }))}
        />
      )}
      {mayWork && (
        <>
          <Button onClick={() => setAdding(true)}>Add evidence</Button>{' '}
          <Button kind="quiet" onClick={() => setFreezing(true)}>
            Keep what the program shows now
          </Button>
        </>
      )}
      {freezing && <FreezeFigure path={path} onClose={() => setFreezing(false)} />}
      {adding && <AddEvidence path={path} onClose={() => setAdding(false)} />}
    </>
  );
}

function AddEvidence({ path, onClose }: { readonly path: string; readonly onClose: () => void }) {
  const [file, setFile] = useState<File>();
  const [until, setUntil] = useState('');
  const { busy, refused, error, send } = useSending();
  const add = async () => {
    if (!file) return;
    await request('POST', path, { upload: await sendFile(file), until: until === '' ? null : until });
    onClose();
  };
  return (
    <DialogForm
      title="Add evidence"
      onClose={onClose}
      onSubmit={() => send(add)}
      act="Add it"
      busy={busy}
      disabled={!file}
      refused={error('until') || error('upload') ? undefined : refused?.message}
    >
      <Field label="File" error={error('upload')}>
        <input type="file" onChange={(e) => setFile(e.target.files?.[0])} />
      </Field>
      <Field label="Counts until" hint="Empty where it has no end" error={error('until')}>
        <input type="date" value={until} onChange={(e) => setUntil(e.target.value)} />
      </Field>
    </DialogForm>
  );
}
