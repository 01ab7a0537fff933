import { PLACES, type Context } from '../../../../core/holdings/detection/detector/detector.ts';
import { shortCode } from '../../../parts/LongCode.tsx';
import { Sentence } from '../../../parts/Sentence.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { atLeastOneWord, LinesSlot, WORD_LINES } from './LinesSlot.tsx';
import { escaped, patternFault } from './slot-text.ts';
import { StepsSlot } from './StepsSlot.tsx';
import { TakeOut } from '../detectors/TakeOut.tsx';
import { useDetectorName, useDetectors } from '../detectors/use-detectors.ts';

const WHERE: Readonly<Record<Context['where'], string>> = {
  before: 'before it',
  after: 'after it',
  brackets: 'in brackets right after it',
  around: 'on either side of it',
  line: 'in the same line',
  sentence: 'in the same sentence',
  cell: 'in the same cell',
  heading: 'in the heading of its column or the name of its field',
};

/** What stands near a match, and what that is worth. */
export function ContextSentence({
  context: c,
  fixed,
  error,
  set,
  takeOut,
}: {
  readonly context: Context;
  readonly fixed: boolean;
  readonly error: string | undefined;
  readonly set: (context: Context) => void;
  readonly takeOut: () => void;
}) {
  const nameOf = useDetectorName();
  const { data } = useDetectors();
  const kind = c.words ? 'words' : c.pattern !== undefined ? 'pattern' : 'detector';
  const near = c.where === 'before' || c.where === 'after' || c.where === 'around';
  const { words: _w, pattern: _p, detector: _d, ...rest } = c;
  return (
    <Sentence label={c.steps >= 0 ? 'Surer' : 'Less sure'}>
      by{' '}
      <Slot
        label="Kind of context"
        words={{ words: 'the words', pattern: 'something like', detector: 'a finding of' }[kind]}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: kind,
          options: [
            { value: 'words', words: 'the words' },
            { value: 'pattern', words: 'something like', detail: 'a pattern' },
            { value: 'detector', words: 'a finding of', detail: 'another detector' },
          ],
          set: (v) =>
            v !== kind &&
            set(
              v === 'words'
                ? { ...rest, words: ['no.'] }
                : v === 'pattern'
                  ? { ...rest, pattern: (c.words ?? ['no.']).map(escaped).join('|') }
                  : { ...rest, detector: 'person-name' },
            ),
        }}
      />{' '}
      {kind === 'words' ? (
        <LinesSlot
          label="Words"
          lines={c.words ?? []}
          fixed={fixed}
          hint={WORD_LINES}
          check={atLeastOneWord}
          set={(words) => set({ ...rest, words })}
        />
      ) : kind === 'pattern' ? (
        <Slot
          label="Pattern"
          code
          words={shortCode(c.pattern ?? '')}
          error={error}
          fixed={fixed}
          edit={{
            kind: 'text',
            most: 12_000,
            value: c.pattern ?? '',
            check: patternFault,
            set: (pattern) => set({ ...rest, pattern }),
          }}
        />
      ) : (
        <Slot
          label="Detector"
          words={nameOf(c.detector ?? '')}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: c.detector ?? '',
            options: [...(data?.own.filter((d) => d.kind === 'pattern') ?? []), ...(data?.builtIn ?? [])].map(
              (d) => ({ value: d.id, words: d.name }),
            ),
            set: (detector) => set({ ...rest, detector }),
          }}
        />
      )}{' '}
      {near && (
        <>
          at most{' '}
          <Slot
            label="Characters"
            words={`${c.within} characters`}
            fixed={fixed}
            edit={{
              kind: 'number',
              unit: 'characters',
              least: 1,
              most: 400,
              value: c.within,
              set: (within) => set({ ...c, within }),
            }}
          />{' '}
        </>
      )}
      <Slot
        label="Where"
        words={WHERE[c.where]}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: c.where,
          options: PLACES.map((p) => ({ value: p, words: WHERE[p] })),
          set: (v) => set({ ...c, where: v as Context['where'] }),
        }}
      />{' '}
      <StepsSlot steps={c.steps} fixed={fixed} set={(steps) => set({ ...c, steps })} />
      {!fixed && <TakeOut what="this context" act={takeOut} />}
    </Sentence>
  );
}
