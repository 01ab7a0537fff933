import { useStore } from '@nanostores/react';
import type * as holdingsDetectorsTrialApi from '../../../../pages/api/holdings/detectors/trial.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { Finding, NearMiss } from '../../../../core/holdings/detection/detector/finding.ts';
import type { OwnDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import type { OpenedDetector } from '../../../../server/holdings/detection/detectors/open-detector.ts';
import type { Trial } from '../../../../server/holdings/detection/detectors/trial.ts';
import { request } from '../../../desk/request.ts';
import { tellFailure } from '../../../desk/toasts.ts';
import { countWords } from '../../../desk/words.ts';
import { Button } from '../../../parts/Button.tsx';
import { SoundingsSection } from '../../../parts/SoundingsSection.tsx';
import { StageTag } from '../../../parts/StageTag.tsx';
import { Failure } from '../../../parts/states.tsx';
import { draftInHand } from './draft-in-hand.ts';
import { KeepText } from '../labelled/KeepText.tsx';
import { LearnedVerdict } from '../learned/LearnedVerdict.tsx';
import { LikenessSides } from '../likeness/LikenessSides.tsx';
import { detectorLink } from '../../links.ts';
import { Mend } from '../pattern/Mend.tsx';
import { base64Of, sendFile } from '../../send-file.ts';
import { confidenceWords } from '../../../../core/holdings/detection/detector/confidence.ts';
import { StepList } from './StepList.tsx';
import { useDetector, useDetectorName, useDetectors } from './use-detectors.ts';
import css from '../../holdings.module.css';

const AFTER_MS = 350;
const FIRST_TEXT = `Dear Tove Lindqvist,

your booking 20261123 is paid with card 4111 1111 1111 1111.
CPR-nr. 010180-1234, born 1 January 1980. Please write to
tove.lindqvist@brindlestrait.example or call +45 32 14 55 66.

Order no. 4012888888881881, version 10.4.12.1`;

type FileInput =
  { readonly name: string; readonly base64: string } | { readonly name: string; readonly upload: number };
type Input = { readonly text: string } | FileInput;

/** Larger files are sent part by part. */
const AT_ONCE = 1_000_000;

/** What was last written here, so that another detector can be tried on the same text. */
let written: string | undefined;

/** The texts that a built-in detector is tested on, those it stays silent at behind the others. */
const testText = (of: OpenedDetector | undefined): string | undefined =>
  of?.origin === 'built-in'
    ? [...of.examples, ...of.counterExamples].map((t) => t.replace(/[⟦⟧]/g, '')).join('\n\n')
    : undefined;

/** A text or file read with the detectors at once; every match opens to its arithmetic. */
export function TrialSoundings({ detector }: { readonly detector: string | undefined }) {
  const hand = useStore(draftInHand);
  const draft = hand && hand.content.id === detector ? hand.content : undefined;
  const opened = useDetector(detector);
  const [typed, setTyped] = useState(written);
  const text = typed ?? testText(opened.data) ?? FIRST_TEXT;
  const setText = (next: string) => {
    written = next;
    setTyped(next);
  };
  const [file, setFile] = useState<FileInput>();
  const [open, setOpen] = useState<string>();
  const choose = useRef<HTMLInputElement>(null);
  const trial = useMutation({
    mutationFn: ({ of, draft }: { of: Input; draft: OwnDetector | undefined }) =>
      request<AnswerOf<typeof holdingsDetectorsTrialApi.POST>>('POST', '/api/holdings/detectors/trial', {
        detector,
        draft,
        of,
      }),
  });
  const { mutate } = trial;
  const waits = typed === undefined && opened.isLoading;
  useEffect(() => {
    if (waits) return;
    const timer = setTimeout(() => mutate({ of: file ?? { text }, draft }), AFTER_MS);
    return () => clearTimeout(timer);
  }, [text, file, draft, mutate, waits]);
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    try {
      setFile(
        chosen.size <= AT_ONCE
          ? { name: chosen.name, base64: await base64Of(chosen) }
          : { name: chosen.name, upload: await sendFile(chosen) },
      );
    } catch (e) {
      tellFailure(e);
    }
  };
  const { data } = trial;
  const whole = draft !== undefined && (draft.kind === 'likeness' || draft.kind === 'learned');
  return (
    <div
      onDragOver={(e) => e.preventDefault()}
      onDrop={(e) => {
        e.preventDefault();
        void take(e.dataTransfer.files[0]);
      }}
    >
      <SoundingsSection title={detector ? 'Try it' : 'Try them all'}>
        {file ? (
          <p className={css['file']}>
            <b>{file.name}</b> <Button onClick={() => setFile(undefined)}>Back to the text</Button>
          </p>
        ) : (
          <textarea
            className={css['paste']}
            aria-label="Text to try"
            rows={9}
            spellCheck={false}
            value={text}
            onChange={(e) => setText(e.target.value)}
          />
        )}
        <input
          ref={choose}
          type="file"
          hidden
          aria-label="File to try"
          onChange={(e) => void take(e.target.files?.[0])}
        />
        <Button onClick={() => choose.current?.click()}>Read a file</Button>
        <span className={css['hint']}> or drop one here. Nothing of it is kept.</span>
      </SoundingsSection>
      {trial.isError && (
        <Failure error={trial.error} onRetry={() => mutate({ of: file ?? { text }, draft })} />
      )}
      {!data && trial.isPending && (
        <SoundingsSection title="What is found">
          <p role="status">Reading it …</p>
        </SoundingsSection>
      )}
      {data && !trial.isError && (
        <SoundingsSection title={titleOf(data, whole)}>
          {data.problems.map((p) => (
            <p key={p.part + p.words} className={css['problem']}>
              ◆ {p.part && `${p.part}: `}
              {p.words}
            </p>
          ))}
          {data.cut && <p className={css['hint']}>Only its first 400,000 characters are shown.</p>}
          {draft?.kind === 'likeness' && <LikenessSides trial={data} />}
          {draft?.kind === 'learned' && (
            <LearnedVerdict trial={data} id={draft.id} name={file?.name ?? 'Pasted text'} />
          )}
          {!whole && <Highlighted trial={data} onOpen={setOpen} />}
          {!whole && (
            <ul className={css['matches']}>
              {data.findings.slice(0, 300).map((f) => (
                <Match
                  key={keyOf(f)}
                  match={f}
                  text={data.text}
                  open={open === keyOf(f)}
                  onToggle={(o) => setOpen(o ? keyOf(f) : undefined)}
                />
              ))}
              {data.nearMisses.map((f) => (
                <Match
                  key={keyOf(f)}
                  match={f}
                  text={data.text}
                  open={open === keyOf(f)}
                  onToggle={(o) => setOpen(o ? keyOf(f) : undefined)}
                />
              ))}
            </ul>
          )}
          {!whole && data.findings.length + data.nearMisses.length === 0 && (
            <p className={css['hint']}>Nothing in it is what it looks for.</p>
          )}
          {!whole && data.text.trim() !== '' && <KeepText trial={data} name={file?.name ?? 'Pasted text'} />}
        </SoundingsSection>
      )}
    </div>
  );
}

function titleOf(data: Trial, whole: boolean): string {
  if (whole) {
    const [verdict] = data.verdicts;
    return verdict?.found ? 'It is one' : 'It is none';
  }
  const counted = data.findings.filter((f) => !f.rehearsed).length;
  const rehearsed = data.findings.length - counted;
  return [
    countWords(counted, 'finding'),
    ...(rehearsed > 0 ? [`${rehearsed} rehearsed`] : []),
    ...(data.nearMisses.length > 0 ? [countWords(data.nearMisses.length, 'near miss', 'near misses')] : []),
  ].join(', ');
}

const keyOf = (f: Finding | NearMiss) => `${f.detector} ${f.version} ${f.start}`;
const MOST_SHOWN = 6000;

/** Whether a detector speaks of a text as a whole. */
function useIsWhole(): (id: string) => boolean {
  const { data } = useDetectors();
  return (id) =>
    data?.own.some((d) => d.id === id && (d.kind === 'learned' || d.kind === 'likeness')) ?? false;
}

/** The text with what was found marked in place. */
function Highlighted({ trial, onOpen }: { readonly trial: Trial; readonly onOpen: (key: string) => void }) {
  const isWhole = useIsWhole();
  const parts: React.ReactNode[] = [];
  let at = 0;
  for (const f of trial.findings) {
    // What is said of the whole would hide what is found in it.
    if (f.start < at || f.end > MOST_SHOWN || isWhole(f.detector)) continue;
    parts.push(trial.text.slice(at, f.start));
    parts.push(
      <button
        key={keyOf(f)}
        type="button"
        className={css['found']}
        title={f.detector}
        onClick={() => onOpen(keyOf(f))}
      >
        {trial.text.slice(f.start, f.end)}
      </button>,
    );
    at = f.end;
  }
  parts.push(trial.text.slice(at, MOST_SHOWN));
  return (
    <div className={css['shown']} role="group" aria-label="Text with what was found" tabIndex={0}>
      {parts}
    </div>
  );
}

function Match({
  match,
  text,
  open,
  onToggle,
}: {
  readonly match: Trial['findings'][number] | NearMiss;
  readonly text: string;
  readonly open: boolean;
  readonly onToggle: (open: boolean) => void;
}) {
  const name = useDetectorName()(match.detector);
  const lacked = 'lacked' in match ? match.lacked : undefined;
  const rehearsed = 'rehearsed' in match && match.rehearsed === true;
  const whole = useIsWhole()(match.detector);
  const { place } = match;
  const where = [
    place.part,
    place.page && `page ${place.page}`,
    place.sheet,
    place.cell,
    place.line && `line ${place.line}`,
    place.path,
    place.header,
    place.role,
  ]
    .filter(Boolean)
    .join(', ');
  return (
    <li data-missed={lacked !== undefined || undefined}>
      <details open={open} onToggle={(e) => e.currentTarget.open !== open && onToggle(e.currentTarget.open)}>
        <summary>
          <span className={css['share']}>{confidenceWords(match.confidence)}</span>
          <span className={css['value']}>
            {whole ? 'the text as a whole' : text.slice(match.start, match.end).slice(0, 60)}
          </span>
          <span className={css['kind']}>
            {lacked === undefined ? name : `not counted: ${lacked}`}
            {rehearsed && (
              <>
                {' '}
                <StageTag state="rehearsing" />
              </>
            )}
          </span>
        </summary>
        <StepList steps={match.steps} confidence={match.confidence} />
        {open && <Mend match={match} text={text} />}
        <p className={css['hint']}>
          {where && `${where} · `}
          <a href={detectorLink(match.detector)}>{name}</a>
        </p>
      </details>
    </li>
  );
}
