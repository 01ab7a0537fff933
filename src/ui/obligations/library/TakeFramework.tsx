import { useState } from 'react';
import type * as lookApi from '../../../pages/api/obligations/library/import/look.ts';
import type { AnswerOf } from '../../../server/http/endpoint.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { saveAnswer } from '../../desk/save-answer.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords } from '../../desk/words.ts';
import { sendFile } from '../../holdings/offers.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { Field } from '../../parts/Field.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { frameworkLink } from '../links.ts';
import { DifferenceList } from './DifferenceList.tsx';
import css from '../obligations.module.css';

type Looked = AnswerOf<typeof lookApi.POST>;
type Preview = NonNullable<Looked['preview']>;

const PATH = '/api/obligations/library/import';
const SHOWN = 12;

/** Takes a framework in from a file; what is wrong with it, or what it would change, is told before. */
export function TakeFramework({ onClose }: { readonly onClose: () => void }) {
  const [upload, setUpload] = useState<number>();
  const [looked, setLooked] = useState<Looked>();
  const { busy, refused, send } = useSending();
  const choose = (file: File | undefined) =>
    file &&
    send(async () => {
      setLooked(undefined);
      const sent = await sendFile(file);
      setUpload(sent);
      setLooked(await request<Looked>('POST', `${PATH}/look`, { upload: sent }));
    });
  const preview = looked?.preview ?? null;
  const take = async () => {
    if (!preview) return;
    const { id } = await request<{ id: string }>('POST', PATH, { upload, before: preview.before });
    tell(`${preview.name} is in the library.`);
    go(frameworkLink(id));
    onClose();
  };
  return (
    <DialogForm
      title="Take in a framework"
      onClose={onClose}
      onSubmit={() => send(take)}
      act="Take it in"
      busy={busy}
      disabled={!preview}
      refused={refused?.message}
    >
      <Field label="Workbook (XLSX), JSON, or OSCAL catalog or profile">
        <input type="file" accept=".xlsx,.json" onChange={(e) => void choose(e.target.files?.[0])} />
      </Field>
      {!looked && (
        <p className={css['note']}>
          Begin with a <a href="/api/obligations/library/sample">filled sample</a>, or with <i>Extend it</i>{' '}
          on any framework of the library.
        </p>
      )}
      {preview && <WhatItDoes preview={preview} />}
      {looked && looked.faults.length > 0 && (
        <div role="alert">
          <p className={css['mark']}>
            ◆ {countWords(looked.faults.length, 'thing')} cannot be taken. Nothing was taken.
          </p>
          <ul className={css['plain']}>
            {looked.faults.slice(0, SHOWN).map((f, i) => (
              <li key={i}>
                <b>{f.at}</b>: {f.message}
              </li>
            ))}
            {looked.faults.length > SHOWN && (
              <li>
                … and {looked.faults.length - SHOWN} more{looked.marked && ', in the copy'}.
              </li>
            )}
          </ul>
          {looked.marked && (
            <Button onClick={() => void saveAnswer(`${PATH}/marked`, { upload }).catch(tellFailure)}>
              Save a copy with every fault marked
            </Button>
          )}
        </div>
      )}
    </DialogForm>
  );
}

const rounded = (readiness: number | null) => (readiness === null ? '–' : String(Math.floor(readiness)));

function WhatItDoes({ preview: p }: { readonly preview: Preview }) {
  const changes = p.differences.length + p.measures.length;
  return (
    <>
      <p>
        ✓ Nothing is wrong. <b>{p.name}</b> is {p.is === 'new' ? 'new here' : p.is}:{' '}
        {countWords(p.controls, 'control')}
        {p.ownMeasures > 0 && `, ${countWords(p.ownMeasures, 'measure')} of its own`}.
      </p>
      {p.notes.map((n) => (
        <p key={n} className={css['note']}>
          ○ {n}
        </p>
      ))}
      {p.is !== 'new' && changes === 0 && <p className={css['note']}>It changes nothing.</p>}
      {changes > 0 && (
        <div className={css['scroll']}>
          <DifferenceList
            differences={[
              ...p.differences.map((d) => ({ ...d, key: d.control, words: `${d.ref} ${d.name}` })),
              ...p.measures.map((m) => ({ ...m, key: `m ${m.measure}`, words: `measure “${m.name}”` })),
            ]}
          />
        </div>
      )}
      {p.running.map((r) => (
        <p key={r.id}>
          ◇ Readiness of <b>{r.cycle}</b>: {rounded(r.before)} → {rounded(r.after)}
        </p>
      ))}
    </>
  );
}
