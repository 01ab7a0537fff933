import { useMutation } from '@tanstack/react-query';
import type * as holdingsDetectorsIdTextsApi from '../../../../pages/api/holdings/detectors/[id]/texts/index.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import { useRef } from 'react';
import type { LikenessDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import { request } from '../../../desk/request.ts';
import { tell } from '../../../desk/toasts.ts';
import { numberWords } from '../../../desk/words.ts';
import { Button } from '../../../parts/Button.tsx';
import { PercentSlot } from '../../../parts/PercentSlot.tsx';
import { Sentence } from '../../../parts/Sentence.tsx';
import { Failure } from '../../../parts/states.tsx';
import type { OpenedOwn } from '../detectors/opened-own.ts';
import { sendFile } from '../../send-file.ts';
import css from '../../holdings.module.css';

/** The blank documents that are recognised, and how much of one has to be there. */
export function LikenessPanel({
  of,
  content,
  set,
  fixed,
}: {
  readonly of: OpenedOwn;
  readonly content: LikenessDetector;
  readonly set: (content: LikenessDetector) => void;
  readonly fixed: boolean;
}) {
  const choose = useRef<HTMLInputElement>(null);
  const add = useMutation({
    mutationFn: async (files: readonly File[]) => {
      const added = [];
      for (const file of files) {
        const upload = await sendFile(file);
        added.push(
          await request<AnswerOf<typeof holdingsDetectorsIdTextsApi.POST>>(
            'POST',
            `/api/holdings/detectors/${of.key}/texts`,
            {
              role: 'template',
              of: { upload },
            },
          ),
        );
      }
      return added;
    },
    onSuccess: (added) =>
      set({
        ...content,
        templates: [
          ...content.templates.filter((t) => !added.some((a) => a.digest === t.digest)),
          ...added.map(({ name, digest }) => ({ name, digest })),
        ],
      }),
  });
  return (
    <>
      <Sentence label="Recognises">
        {content.templates.length === 0 ? (
          <>copies of documents that are to be added</>
        ) : (
          <>
            filled-in copies and excerpts of{' '}
            {content.templates.length === 1 ? 'this document' : 'these documents'}
          </>
        )}
      </Sentence>
      <Sentence label="Counts">
        from{' '}
        <PercentSlot
          label="Counts from"
          unit="% of its words"
          least={5}
          most={100}
          share={content.from}
          fixed={fixed}
          set={(from) => set({ ...content, from })}
        />{' '}
        of its words on, in whatever order and form
      </Sentence>
      <section className={css['mapping']}>
        <h2>Documents</h2>
        {content.templates.length === 0 ? (
          <p className={css['hint']}>
            Add the blank form: a document, a PDF, a page. Fifteen words are the least it needs.
          </p>
        ) : (
          <ul className={css['marks']}>
            {content.templates.map((t) => {
              const text = of.texts.find((x) => x.digest === t.digest);
              return (
                <li key={t.digest}>
                  <b>{t.name}</b>
                  <span>{text ? `${numberWords(text.units)} characters` : 'being saved'}</span>
                  {!fixed && (
                    <Button
                      kind="quiet"
                      onClick={() => {
                        set({ ...content, templates: content.templates.filter((x) => x !== t) });
                        tell(`${t.name} is out of the draft.`, { undo: () => set(content) });
                      }}
                    >
                      Take it out
                    </Button>
                  )}
                </li>
              );
            })}
          </ul>
        )}
        {!fixed && (
          <>
            <input
              ref={choose}
              type="file"
              multiple
              hidden
              aria-label="Blank documents"
              onChange={(e) => {
                const files = [...(e.target.files ?? [])];
                e.target.value = '';
                if (files.length > 0) add.mutate(files);
              }}
            />
            <Button busy={add.isPending} onClick={() => choose.current?.click()}>
              Add blank documents
            </Button>
          </>
        )}
        {add.isError && <Failure error={add.error} />}
      </section>
    </>
  );
}
