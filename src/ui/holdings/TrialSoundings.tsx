import { useMutation } from '@tanstack/react-query';
import { useEffect, useRef, useState } from 'react';
import type { Finding, NearMiss } from '../../core/holdings/finding.ts';
import type { Trial } from '../../server/holdings/trial.ts';
import { request } from '../desk/request.ts';
import { countWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import { SoundingsSection } from '../parts/SoundingsSection.tsx';
import { Failure } from '../parts/states.tsx';
import { detectorLink, useDetectors } from './HoldingsArea.tsx';
import { StepFigure } from './StepFigure.tsx';
import css from './holdings.module.css';

const AFTER_MS = 350;
const FIRST_TEXT = `Dear Tove Lindqvist,

your booking 20261123 is paid with card 4111 1111 1111 1111.
CPR-nr. 010180-1234, born 1 January 1980. Please write to
tove.lindqvist@brindlestrait.example or call +45 32 14 55 66.

Order no. 4012888888881881, version 10.4.12.1`;

type Input = { readonly text: string } | { readonly name: string; readonly base64: string };

/** A text or file read with the detectors at once; every match opens to its arithmetic. */
export function TrialSoundings({ detector }: { readonly detector: string | undefined }) {
  const [text, setText] = useState(FIRST_TEXT);
  const [file, setFile] = useState<{ name: string; base64: string }>();
  const [open, setOpen] = useState<string>();
  const choose = useRef<HTMLInputElement>(null);
  const trial = useMutation({
    mutationFn: (of: Input) => request<Trial>('POST', '/api/detectors/trial', { detector, of }),
  });
  const { mutate } = trial;
  useEffect(() => {
    const timer = setTimeout(() => mutate(file ?? { text }), AFTER_MS);
    return () => clearTimeout(timer);
  }, [text, file, mutate]);
  const take = async (chosen: File | undefined) => {
    if (!chosen) return;
    const bytes = new Uint8Array(await chosen.arrayBuffer());
    let binary = '';
    for (const b of bytes) binary += String.fromCharCode(b);
    setFile({ name: chosen.name, base64: btoa(binary) });
  };
  const { data } = trial;
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
      {trial.isError && <Failure error={trial.error} onRetry={() => mutate(file ?? { text })} />}
      {data && (
        <SoundingsSection
          title={`${countWords(data.findings.length, 'finding')}${data.nearMisses.length > 0 ? `, ${countWords(data.nearMisses.length, 'near miss', 'near misses')}` : ''}`}
        >
          {data.problems.map((p) => (
            <p key={p.part + p.words} className={css['problem']}>
              ◆ {p.part && `${p.part}: `}
              {p.words}
            </p>
          ))}
          {data.cut && <p className={css['hint']}>Only its first 400,000 characters are shown.</p>}
          <Highlighted trial={data} onOpen={setOpen} />
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
          {data.findings.length + data.nearMisses.length === 0 && (
            <p className={css['hint']}>Nothing in it is what it looks for.</p>
          )}
        </SoundingsSection>
      )}
    </div>
  );
}

const keyOf = (f: Finding | NearMiss) => `${f.detector} ${f.start}`;
const MOST_SHOWN = 6000;

/** The text with what was found marked in place. */
function Highlighted({ trial, onOpen }: { readonly trial: Trial; readonly onOpen: (key: string) => void }) {
  const parts: React.ReactNode[] = [];
  let at = 0;
  for (const f of trial.findings) {
    if (f.start < at || f.end > MOST_SHOWN) continue;
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
  return <div className={css['shown']}>{parts}</div>;
}

function Match({
  match,
  text,
  open,
  onToggle,
}: {
  readonly match: Finding | NearMiss;
  readonly text: string;
  readonly open: boolean;
  readonly onToggle: (open: boolean) => void;
}) {
  const name = useDetectors().data?.find((d) => d.id === match.detector)?.name ?? match.detector;
  const lacked = 'lacked' in match ? match.lacked : undefined;
  const { place } = match;
  const where = [
    place.part,
    place.page && `page ${place.page}`,
    place.sheet,
    place.cell,
    place.line && `line ${place.line}`,
    place.header,
    place.role,
  ]
    .filter(Boolean)
    .join(', ');
  return (
    <li data-missed={lacked !== undefined || undefined}>
      <details open={open} onToggle={(e) => e.currentTarget.open !== open && onToggle(e.currentTarget.open)}>
        <summary>
          <span className={css['share']}>{Math.round(match.confidence * 100)}%</span>
          <span className={css['value']}>{text.slice(match.start, match.end).slice(0, 60)}</span>
          <span className={css['kind']}>{lacked === undefined ? name : `not counted: ${lacked}`}</span>
        </summary>
        <ul className={css['steps']}>
          {match.steps.map((s, i) => (
            <li key={i}>
              <span>{s.words}</span>
              <StepFigure steps={s.steps} />
            </li>
          ))}
          <li>
            <b>together {Math.round(match.confidence * 1000) / 10}%</b>
          </li>
        </ul>
        <p className={css['hint']}>
          {where && `${where} · `}
          <a href={detectorLink(match.detector)}>{name}</a>
        </p>
      </details>
    </li>
  );
}
