import type { FrameworkView } from '../../../server/obligations/library/library-view.ts';
import { useMay } from '../../desk/account-context.ts';
import { go } from '../../desk/location.ts';
import { request } from '../../desk/request.ts';
import { tell, tellFailure } from '../../desk/toasts.ts';
import { countWords, dateWords, whenWords } from '../../desk/words.ts';
import { Button } from '../../parts/Button.tsx';
import { FigureTable } from '../../parts/FigureTable.tsx';
import { LIBRARY } from '../links.ts';
import css from '../obligations.module.css';

/** Of a framework of the organisation: what it takes from others, and when it was taken in. */
export function OwnFramework({ view }: { readonly view: FrameworkView }) {
  const mayEdit = useMay('obligations.edit');
  const { own, framework } = view;
  if (!own) return null;
  const remove = async () => {
    try {
      await request('POST', `/api/obligations/library/${encodeURIComponent(framework.id)}/remove`, {
        version: framework.version,
      });
      tell(`${framework.name} of ${dateWords(framework.version)} is out of the library.`);
      if (view.versions.length === 1) go(LIBRARY);
    } catch (error) {
      tellFailure(error);
    }
  };
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
        <Button kind="quiet" onClick={() => void remove()}>
          Take this version out of the library
        </Button>
      )}
    </section>
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
