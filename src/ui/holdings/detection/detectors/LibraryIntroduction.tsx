import { useMutation } from '@tanstack/react-query';
import type * as holdingsDetectorsImportApi from '../../../../pages/api/holdings/detectors/import.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import { useRef, useState } from 'react';
import { useMay } from '../../../desk/account-context.ts';
import { go } from '../../../desk/location.ts';
import { request } from '../../../desk/request.ts';
import { tell } from '../../../desk/toasts.ts';
import { countWords } from '../../../desk/words.ts';
import { Button } from '../../../parts/Button.tsx';
import { SheetHead } from '../../../parts/SheetHead.tsx';
import { StageTag } from '../../../parts/StageTag.tsx';
import { Failure, Loading } from '../../../parts/states.tsx';
import { NewSet } from '../labelled/NewSet.tsx';
import { detectorLink, NEW_DETECTOR } from '../../links.ts';
import { useDetectors } from './use-detectors.ts';
import css from '../../holdings.module.css';

/** All detectors, one’s own first, then by what they are about. */
export function LibraryIntroduction() {
  const detectors = useDetectors().data;
  const mayEdit = useMay('holdings.edit');
  const [naming, setNaming] = useState(false);
  if (!detectors) return <Loading what="detectors" />;
  const { own, builtIn } = detectors;
  const categories = [...new Set(builtIn.map((d) => d.category))];
  const exportable = own.some((d) => d.kind === 'pattern');
  return (
    <>
      <SheetHead
        title="Detectors"
        actions={
          mayEdit && (
            <>
              <Button kind="primary" onClick={() => go(NEW_DETECTOR)}>
                Make a detector
              </Button>
              <ImportDetectors />
              {exportable && (
                <Button onClick={() => location.assign('/api/holdings/detectors/export')}>
                  Export yours
                </Button>
              )}
              <Button onClick={() => setNaming(true)}>Begin a labelled set</Button>
            </>
          )
        }
        detail={`${countWords(builtIn.length, 'detector')} ship with Yare Warden, each with its source and its own test${own.length > 0 ? `; ${own.length} of your own` : ''}. Try them together on the right, or open one.`}
      />
      {naming && <NewSet onClose={() => setNaming(false)} />}
      {own.length > 0 && (
        <section className={css['category']}>
          <h2>
            Your own <span>{own.length}</span>
          </h2>
          <ul>
            {own.map((d) => (
              <li key={d.id}>
                <a href={detectorLink(d.id)}>{d.name}</a> <StageTag state={d.stage.state} />
              </li>
            ))}
          </ul>
        </section>
      )}
      {categories.map((category) => {
        const mine = builtIn.filter((d) => d.category === category);
        return (
          <section key={category} className={css['category']}>
            <h2>
              {category} <span>{mine.length}</span>
            </h2>
            <ul>
              {mine.map((d) => (
                <li key={d.id}>
                  <a href={detectorLink(d.id)}>{d.name}</a>
                </li>
              ))}
            </ul>
          </section>
        );
      })}
    </>
  );
}

/** Takes in a file of detectors as drafts, and says what became of each. */
function ImportDetectors() {
  const choose = useRef<HTMLInputElement>(null);
  const take = useMutation({
    mutationFn: async (file: File) =>
      request<AnswerOf<typeof holdingsDetectorsImportApi.POST>>('POST', '/api/holdings/detectors/import', {
        text: await file.text(),
      }),
    onSuccess: ({ added, changed, same, renamed }) => {
      const parts = [
        added.length > 0 && `${countWords(added.length, 'new draft')}`,
        changed.length > 0 && `${countWords(changed.length, 'draft')} changed`,
        same.length > 0 && `${same.length} as before`,
        ...renamed.map((r) => `${r.from} ships already and came in as ${r.to}`),
      ];
      tell(`Taken in: ${parts.filter(Boolean).join(', ')}.`);
      const [only] = added;
      if (added.length === 1 && only) go(detectorLink(only));
    },
  });
  return (
    <>
      <input
        ref={choose}
        type="file"
        accept="application/json,.json"
        hidden
        aria-label="File of detectors"
        onChange={(e) => {
          const file = e.target.files?.[0];
          e.target.value = '';
          if (file) take.mutate(file);
        }}
      />
      <Button busy={take.isPending} onClick={() => choose.current?.click()}>
        Import
      </Button>
      {take.isError && <Failure error={take.error} />}
    </>
  );
}
