import { useState } from 'react';
import type { FrameworkView } from '../../../server/obligations/library/library-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell } from '../../desk/toasts.ts';
import { countWords, dateWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { DialogForm } from '../../parts/DialogForm.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { useSending } from '../../parts/use-sending.ts';
import { LIBRARY } from '../links.ts';
import css from '../obligations.module.css';

/** Of a framework of the organisation: what it takes from others, and when it was taken in. */
export function OwnFramework({ view }: { readonly view: FrameworkView }) {
  const mayEdit = useMay('obligations.edit');
  const { own } = view;
  const [removing, setRemoving] = useState(false);
  if (!own) return null;
  return (
    <section>
      <h2 className={css['heading']}>Taken in</h2>
      <FigureTable
        columns={['Version', 'When', 'By', 'SHA-256']}
        rows={own.taken.map((t) => ({
          key: t.id,
          cells: [
            dateWords(t.version),
            `${whenWords(t.at)}${t.removed ? ' · taken out' : ''}`,
            t.by ?? 'the program',
            <code title={t.hash}>{t.hash.slice(0, 12)}…</code>,
          ],
        }))}
      />
      {mayEdit && (
        <Button kind="quiet" onClick={() => setRemoving(true)}>
          Take this version out of the library …
        </Button>
      )}
      {removing && <TakeOut view={view} onClose={() => setRemoving(false)} />}
    </section>
  );
}

/** Asks first, and offers the file by which it can be taken in again. */
function TakeOut({ view, onClose }: { readonly view: FrameworkView; readonly onClose: () => void }) {
  const { id, name, version } = view.framework;
  const path = `/api/obligations/library/${encodeURIComponent(id)}`;
  const { busy, refused, send } = useSending();
  const remove = async () => {
    await request('POST', `${path}/remove`, { version });
    tell(`${name} of ${dateWords(version)} is out of the library.`);
    onClose();
    if (view.versions.length === 1) go(LIBRARY);
  };
  return (
    <DialogForm
      title={`Take ${name} of ${dateWords(version)} out of the library?`}
      onClose={onClose}
      onSubmit={() => send(remove)}
      act="Take it out"
      busy={busy}
      refused={refused?.message}
    >
      <p className={css['note']}>
        Nobody can assess by it any more. <a href={`${path}/export?version=${version}`}>Save its file</a> to
        take it in again.
      </p>
    </DialogForm>
  );
}

/** What an own framework takes from others. */
export function OwnParts({ own }: Pick<FrameworkView, 'own'>) {
  if (!own) return null;
  const parts = [
    ...(own.extends === null ? [] : [`all of ${own.extends}`]),
    ...own.takes.map((t) => `${countWords(t.controls, 'control')} of ${t.from}`),
  ];
  if (parts.length === 0) return null;
  return <p className={css['note']}>It has {parts.join(', ')}, and its own.</p>;
}
