import { useState } from 'react';
import type * as holdingsDetectorsIdTextsTextApi from '../../../../pages/api/holdings/detectors/[id]/texts/[text].ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import type { ListedText, OpenText } from '../../../../server/holdings/detection/detectors/detector-texts.ts';
import { request } from '../../../desk/request.ts';
import { tell, tellFailure } from '../../../desk/toasts.ts';
import { Button } from '../../../parts/Button.tsx';
import { Dialog } from '../../../parts/Dialog.tsx';
import css from '../../holdings.module.css';

/** One of its texts, opened to read. */
export function WrongText({
  id,
  text,
  name,
  words,
}: {
  readonly id: string;
  readonly text: string;
  readonly name: string;
  readonly words: string;
}) {
  const [open, setOpen] = useState<OpenText>();
  return (
    <li>
      <Button
        kind="quiet"
        onClick={() =>
          void request<AnswerOf<typeof holdingsDetectorsIdTextsTextApi.GET>>(
            'GET',
            `/api/holdings/detectors/${id}/texts/${text}`,
          )
            .then(setOpen)
            .catch(tellFailure)
        }
      >
        {name}
      </Button>
      <span>{words}</span>
      {open && <TextDialog id={id} text={open} onClose={() => setOpen(undefined)} />}
    </li>
  );
}

export function TextDialog({
  id,
  text,
  onClose,
}: {
  readonly id: string;
  readonly text: OpenText;
  readonly onClose: () => void;
}) {
  const other = text.role === 'example' ? 'counter-example' : 'example';
  const change = (work: Promise<unknown>, told: string) =>
    void work
      .then(async () => {
        tell(told);
        onClose();
      })
      .catch(tellFailure);
  return (
    <Dialog title={text.name} onClose={onClose}>
      <p>
        {text.role === 'example' ? 'An example' : 'A counter-example'}.{' '}
        <Button
          onClick={() =>
            change(
              request('POST', `/api/holdings/detectors/${id}/texts`, {
                role: other,
                of: { name: text.name, text: text.text, origin: 'verdict' },
              }),
              `${text.name} is ${other === 'example' ? 'an example' : 'a counter-example'} now.`,
            )
          }
        >
          It is {other === 'example' ? 'an example' : 'a counter-example'}
        </Button>{' '}
        <Button
          onClick={() =>
            change(
              request('DELETE', `/api/holdings/detectors/${id}/texts/${text.id}`),
              `${text.name} is taken out; the next training does without it.`,
            )
          }
        >
          Take it out
        </Button>
      </p>
      <div className={css['shown']} role="group" aria-label="Text" tabIndex={0}>
        {text.text.slice(0, 20_000)}
      </div>
    </Dialog>
  );
}

export function Texts({
  id,
  texts,
  fixed,
}: {
  readonly id: string;
  readonly texts: readonly ListedText[];
  readonly fixed: boolean;
}) {
  if (texts.length === 0) return null;
  return (
    <details className={css['cases']}>
      <summary>
        All its texts <b>{texts.length}</b>
      </summary>
      <ul className={css['marks']}>
        {texts.slice(0, 1000).map((t) =>
          fixed ? (
            <li key={t.id}>
              {t.name} <span>{t.role}</span>
            </li>
          ) : (
            <WrongText
              key={t.id}
              id={id}
              text={t.id}
              name={t.name}
              words={`${t.role}${t.origin === 'verdict' ? ', by verdict' : ''}${t.score === null ? '' : `, scored ${t.score.toFixed(2)}`}`}
            />
          ),
        )}
      </ul>
    </details>
  );
}
