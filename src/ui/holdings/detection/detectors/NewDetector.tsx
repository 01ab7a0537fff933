import { useMutation } from '@tanstack/react-query';
import type * as holdingsDetectorsApi from '../../../../pages/api/holdings/detectors/index.ts';
import type { AnswerOf } from '../../../../server/http/endpoint.ts';
import { useState } from 'react';
import { KIND_WORDS, type DetectorKind } from '../../../../core/holdings/detection/detector/own-detector.ts';
import {
  patternFromExamples,
  bodyOfAlone,
} from '../../../../core/holdings/detection/pattern/pattern-example.ts';
import { go } from '../../../desk/location.ts';
import { request, RequestError } from '../../../desk/request.ts';
import { Button } from '../../../parts/Button.tsx';
import { Field } from '../../../parts/Field.tsx';
import { SheetHead } from '../../../parts/SheetHead.tsx';
import { detectorLink, DETECTORS } from '../../links.ts';
import { linesOf } from '../../../../core/rules/sentence.ts';
import { useDetectors } from './use-detectors.ts';
import css from '../../holdings.module.css';

type Have = 'format' | 'words' | 'table' | 'form' | 'examples';

const HAVE: Readonly<
  Record<Have, { readonly words: string; readonly about: string; readonly kind: DetectorKind }>
> = {
  format: {
    words: 'I know how it is written',
    about: 'A number, a code, a reference. Everything that is written so is found, whoever it belongs to.',
    kind: 'pattern',
  },
  words: {
    words: 'I know the words that are used',
    about: 'Names of illnesses, of projects, of clubs. Every place where one of them stands is found.',
    kind: 'pattern',
  },
  table: {
    words: 'I have a table of the records',
    about:
      'Members, staff, bookings. Only your own records are found, whatever they look like; the table is kept as keyed hashes alone.',
    kind: 'roster',
  },
  form: {
    words: 'I have the blank form',
    about:
      'A form, a contract, a template. Filled-in copies and excerpts of it are found, and the parts that match.',
    kind: 'likeness',
  },
  examples: {
    words: 'I only have documents that are of the kind',
    about:
      'Medical certificates, complaints, applications. It learns from 50 or more of them, and as many that are not, to tell the two apart.',
    kind: 'learned',
  },
};

/** Which kind of detector it takes depends on what the person has; nothing else needs to be known. */
export function NewDetector() {
  const { data } = useDetectors();
  const [name, setName] = useState('');
  const [have, setHave] = useState<Have>('format');
  const [lines, setLines] = useState('');
  const make = useMutation({
    mutationFn: () =>
      request<AnswerOf<typeof holdingsDetectorsApi.POST>>('POST', '/api/holdings/detectors', {
        name,
        kind: HAVE[have].kind,
        ...(have === 'format' || have === 'words' ? { from: { [have]: linesOf(lines) } } : {}),
      }),
    onSuccess: ({ id }) => {
      go(detectorLink(id));
    },
  });
  const refused = make.error instanceof RequestError ? make.error : undefined;
  const near = nearNames(name, data?.builtIn ?? []);
  const written = have === 'format' && linesOf(lines).length > 0 ? patternOf(linesOf(lines)) : undefined;
  return (
    <>
      <SheetHead
        title="Make a detector"
        detail="Say what it finds and what you have of it. It begins as a draft that only you try."
      />
      <form
        className={css['make']}
        onSubmit={(e) => {
          e.preventDefault();
          make.mutate();
        }}
      >
        <Field
          label="What it finds"
          hint="As your office calls it: crew number, incident report."
          error={refused?.field('name')}
        >
          <input autoFocus value={name} maxLength={120} onChange={(e) => setName(e.target.value)} />
        </Field>
        {near.length > 0 && (
          <p className={css['near']}>
            Ships already:{' '}
            {near.map((d, i) => (
              <span key={d.id}>
                {i > 0 && ', '}
                <a href={detectorLink(d.id)}>{d.name}</a>
              </span>
            ))}
            . It can be copied and changed.
          </p>
        )}
        <fieldset className={css['have']}>
          <legend>What you have</legend>
          {(Object.keys(HAVE) as Have[]).map((h) => (
            <label key={h}>
              <input type="radio" name="have" value={h} checked={h === have} onChange={() => setHave(h)} />
              <span>
                <b>{HAVE[h].words}</b> <i>{KIND_WORDS[HAVE[h].kind]}</i>
                <br />
                {HAVE[h].about}
              </span>
            </label>
          ))}
        </fieldset>
        {(have === 'format' || have === 'words') && (
          <Field
            label={have === 'format' ? 'Some of them, just as they are written' : 'The words'}
            hint="One a line."
            error={refused?.field('from.format', 'from.words')}
          >
            <textarea
              rows={3}
              spellCheck={false}
              className={css['paste']}
              value={lines}
              onChange={(e) => setLines(e.target.value)}
            />
          </Field>
        )}
        {written && (
          <p className={css['near']}>
            Read as <code>{written}</code>
          </p>
        )}
        {refused && refused.refusal.fields.length === 0 && (
          <p className={css['problem']}>◆ {refused.message}</p>
        )}
        <div className={css['acts']}>
          <Button type="submit" kind="primary" busy={make.isPending}>
            Make the draft
          </Button>
          <Button onClick={() => go(DETECTORS)}>Leave it</Button>
        </div>
      </form>
    </>
  );
}

function patternOf(lines: readonly string[]): string | undefined {
  try {
    return bodyOfAlone(patternFromExamples(lines));
  } catch {
    return undefined;
  }
}

function nearNames<T extends { readonly name: string }>(name: string, all: readonly T[]): readonly T[] {
  const words = name
    .toLowerCase()
    .split(/\s+/)
    .filter((w) => w.length > 3 && w !== 'number');
  if (words.length === 0) return [];
  return all.filter((d) => words.some((w) => d.name.toLowerCase().includes(w))).slice(0, 4);
}
