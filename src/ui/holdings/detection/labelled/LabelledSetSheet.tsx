import { useMutation, useQuery } from '@tanstack/react-query';
import type * as holdingsSetsSetApi from '../../../../pages/api/holdings/sets/[set]/index.ts';
import type * as holdingsDetectorsTrialApi from '../../../../pages/api/holdings/detectors/trial.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import { useRef, useState } from 'react';
import type { Mark } from '../../../../core/holdings/detection/labelled/labelled.ts';
import type { LabelledText } from '../../../../server/holdings/detection/labelled/labelled-sets.ts';
import { go, setQuery, useDeskLocation } from '../../../desk/location.ts';
import { request } from '../../../desk/request.ts';
import { tell, tellFailure } from '../../../desk/toasts.ts';
import { countWords } from '../../../desk/words.ts';
import { Button } from '../../../parts/Button.tsx';
import { Dialog } from '../../../parts/Dialog.tsx';
import { SheetHead } from '../../../parts/SheetHead.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { Empty, Failure, Loading } from '../../../parts/states.tsx';
import { base64Of } from '../../send-file.ts';
import { useDetectorName, useDetectors } from '../detectors/use-detectors.ts';
import { SETS } from '../../links.ts';
import css from '../../holdings.module.css';

/** Texts with their personal data marked: what detectors are held against. */
export function LabelledSetSheet({ id }: { readonly id: string }) {
  const { query } = useDeskLocation();
  const set = useQuery({
    queryKey: ['labelled-set', id],
    queryFn: () => request<AnswerOf<typeof holdingsSetsSetApi.GET>>('GET', `/api/holdings/sets/${id}`),
    refetchOnWindowFocus: false,
  });
  const [removing, setRemoving] = useState(false);
  if (set.isError && !set.data) return <Failure error={set.error} onRetry={() => void set.refetch()} />;
  if (!set.data) return <Loading what="the labelled set" />;
  const { name, texts } = set.data;
  const chosen = texts.find((t) => t.id === query.get('text')) ?? texts.at(-1);
  return (
    <>
      <SheetHead
        title={name}
        actions={
          <>
            <AddText set={id} />
            <Button onClick={() => setRemoving(true)}>Remove the set</Button>
          </>
        }
        detail={`A labelled set: ${countWords(texts.length, 'text')}, ${countWords(
          texts.reduce((n, t) => n + t.marks.length, 0),
          'mark',
        )}. What is marked is what a detector should find; all else it should leave alone.`}
      />
      {chosen ? (
        <div className={css['setColumns']}>
          <ul className={css['setTexts']} aria-label="Texts">
            {texts.map((t) => (
              <li key={t.id}>
                <button
                  type="button"
                  aria-current={t.id === chosen.id ? 'true' : undefined}
                  onClick={() => setQuery({ text: t.id })}
                >
                  <b>{t.name}</b>
                  <small>{countWords(t.marks.length, 'mark')}</small>
                </button>
              </li>
            ))}
          </ul>
          <MarkedText key={`${chosen.id} ${chosen.revision}`} set={id} text={chosen} />
        </div>
      ) : (
        <Empty title="No text yet">
          Add a text or a file. What the detectors find in it is marked at first; you then say what is right.
        </Empty>
      )}
      {removing && (
        <Dialog title={`Remove ${name}?`} onClose={() => setRemoving(false)}>
          <div className={css['make']}>
            <p>{countWords(texts.length, 'text')} and every mark in them are lost. This cannot be undone.</p>
            <div className={css['acts']}>
              <Button
                kind="primary"
                autoFocus
                onClick={() =>
                  void request('DELETE', `/api/holdings/sets/${id}`)
                    .then(() => go(SETS))
                    .catch(tellFailure)
                }
              >
                Remove it with its texts
              </Button>
              <Button onClick={() => setRemoving(false)}>Keep it</Button>
            </div>
          </div>
        </Dialog>
      )}
    </>
  );
}

/** Adds a text; what all detectors find in it becomes its first marks. */
function AddText({ set }: { readonly set: string }) {
  const [typing, setTyping] = useState(false);
  const [text, setText] = useState('');
  const file = useRef<HTMLInputElement>(null);
  const add = useMutation({
    mutationFn: async (of: { text: string } | File) => {
      const input = of instanceof File ? { name: of.name, base64: await base64Of(of) } : { text: of.text };
      const trial = await request<AnswerOf<typeof holdingsDetectorsTrialApi.POST>>(
        'POST',
        '/api/holdings/detectors/trial',
        { of: input },
      );
      await request('POST', `/api/holdings/sets/${set}/texts`, {
        name: of instanceof File ? of.name : (of.text.trim().split('\n')[0] ?? '').slice(0, 80),
        text: trial.text,
        marks: trial.findings
          .filter((f) => !f.rehearsed)
          .map((f) => ({ start: f.start, end: f.end, label: f.detector })),
      });
      return trial.findings.length;
    },
    onSuccess: async (n) => {
      setTyping(false);
      setText('');
      setQuery({ text: null });
      tell(`Added, with ${countWords(n, 'first mark')} by the detectors. Look them over.`);
    },
  });
  return (
    <>
      <Button kind="primary" onClick={() => setTyping(true)}>
        Add a text
      </Button>
      <input
        ref={file}
        type="file"
        hidden
        aria-label="File to add"
        onChange={(e) => {
          const chosen = e.target.files?.[0];
          e.target.value = '';
          if (chosen) add.mutate(chosen);
        }}
      />
      <Button busy={add.isPending} onClick={() => file.current?.click()}>
        Add a file
      </Button>
      {add.isError && !typing && <Failure error={add.error} />}
      {typing && (
        <Dialog title="Add a text" onClose={() => setTyping(false)}>
          <form
            className={css['make']}
            onSubmit={(e) => {
              e.preventDefault();
              add.mutate({ text });
            }}
          >
            <textarea
              autoFocus
              rows={10}
              aria-label="The text"
              className={css['paste']}
              value={text}
              onChange={(e) => setText(e.target.value)}
            />
            {add.isError && <Failure error={add.error} />}
            <div className={css['acts']}>
              <Button type="submit" kind="primary" busy={add.isPending} disabled={text.trim() === ''}>
                Add it
              </Button>
              <Button onClick={() => setTyping(false)}>Leave it</Button>
            </div>
          </form>
        </Dialog>
      )}
    </>
  );
}

/** One text under marking: select in it and press the button, or Alt+M. */
function MarkedText({ set, text: t }: { readonly set: string; readonly text: LabelledText }) {
  const { data } = useDetectors();
  const nameOf = useDetectorName();
  const area = useRef<HTMLTextAreaElement>(null);
  const [label, setLabel] = useState(t.marks[0]?.label ?? data?.own[0]?.id ?? 'person-name');
  const [selected, setSelected] = useState<{ start: number; end: number }>();
  const save = useMutation({
    mutationFn: (marks: readonly Mark[]) =>
      request('PUT', `/api/holdings/sets/${set}/texts/${t.id}`, { revision: t.revision, marks }),
    onError: tellFailure,
  });
  const select = () => {
    const { selectionStart, selectionEnd } = area.current ?? {};
    setSelected(
      selectionStart !== undefined && selectionEnd !== undefined && selectionEnd > selectionStart
        ? { start: selectionStart, end: selectionEnd }
        : undefined,
    );
  };
  const mark = () => {
    if (!selected) return;
    const kept = t.marks.filter(
      (m) => m.label !== label || m.end <= selected.start || m.start >= selected.end,
    );
    save.mutate([...kept, { ...selected, label }]);
  };
  const takeOut = (gone: Mark) => {
    save.mutate(t.marks.filter((m) => m !== gone));
    tell(`“${t.text.slice(gone.start, gone.end)}” is not marked any more.`, {
      undo: () => save.mutate([...t.marks]),
    });
  };
  const options = [...(data?.own ?? []), ...(data?.builtIn ?? [])].map((d) => ({
    value: d.id,
    words: d.name,
  }));
  return (
    <div className={css['marking']}>
      <p>
        Select in the text what is{' '}
        <Slot
          label="What is marked"
          words={nameOf(label)}
          edit={{ kind: 'choice', value: label, options, set: setLabel }}
        />
        , then{' '}
        <Button kind="primary" disabled={!selected} busy={save.isPending} onClick={mark}>
          Mark it
        </Button>{' '}
        <span className={css['hint']}>(or Alt+M)</span>
        <Button
          kind="quiet"
          onClick={() => void request('DELETE', `/api/holdings/sets/${set}/texts/${t.id}`).catch(tellFailure)}
        >
          Take this text out
        </Button>
      </p>
      <textarea
        ref={area}
        className={css['paste']}
        aria-label="The text to mark"
        rows={Math.min(14, t.text.split('\n').length + 3)}
        spellCheck={false}
        // Not read-only: there a browser shows no caret to select with.
        aria-readonly
        value={t.text}
        onChange={() => {}}
        onSelect={select}
        onKeyDown={(e) => {
          if (e.altKey && e.code === 'KeyM') {
            e.preventDefault();
            mark();
          }
        }}
      />
      <h2>{t.marks.length === 0 ? 'Nothing is marked in it' : 'Marked in it'}</h2>
      <ul className={css['marks']}>
        {t.marks.map((m) => (
          <li key={`${m.start} ${m.label}`}>
            <mark>{t.text.slice(m.start, m.end)}</mark> <span>{nameOf(m.label)}</span>
            <Button
              kind="quiet"
              aria-label={`Unmark ${t.text.slice(m.start, m.end)}`}
              onClick={() => takeOut(m)}
            >
              Unmark
            </Button>
          </li>
        ))}
      </ul>
    </div>
  );
}
