import { useState } from 'react';
import { X } from 'lucide-react';
import { bandOf, confidence } from '../../core/holdings/confidence.ts';
import {
  CATEGORIES,
  PLACES,
  type Check,
  type Context,
  type PatternDetector,
} from '../../core/holdings/detector.ts';
import { bodyOfAlone, patternFromExamples, standAlone } from '../../core/holdings/pattern-example.ts';
import { percentWords } from '../desk/words.ts';
import { Button } from '../parts/Button.tsx';
import type { Option } from '../parts/ChoiceEditor.tsx';
import { PercentSlot } from '../parts/PercentSlot.tsx';
import { Sentence } from '../parts/Sentence.tsx';
import { Slot } from '../parts/Slot.tsx';
import { CheckWords, newCheck, CHECK_OPTIONS } from './CheckWords.tsx';
import { StepFigure } from './StepFigure.tsx';
import { useDetectorName, useDetectors } from './use-detectors.ts';
import css from './holdings.module.css';

interface PatternSentencesProps {
  readonly content: PatternDetector;
  readonly set: (content: PatternDetector) => void;
  readonly fixed: boolean;
  /** What is wrong with a field, by its dotted path. */
  readonly error: (field: string) => string | undefined;
}

/** A pattern detector as sentences; every slot changes the draft. */
export function PatternSentences({ content, set, fixed, error }: PatternSentencesProps) {
  const checks = (next: readonly Check[]) => set({ ...content, checks: [...next] });
  const context = (next: readonly Context[]) => set({ ...content, context: [...next] });
  return (
    <>
      <AnchorSentence content={content} set={set} fixed={fixed} error={error} />
      {content.checks.map((c, i) => (
        <Sentence key={`check ${i}`} label={c.fails === 'drop' ? 'Only where' : 'Whether'}>
          <CheckWords
            check={c}
            fixed={fixed}
            error={error(`checks.${i}.pattern`)}
            set={(next) => checks(content.checks.with(i, next))}
          />
          {!fixed && (
            <TakeOut what={`check ${i + 1}`} act={() => checks(content.checks.filter((_, k) => k !== i))} />
          )}
        </Sentence>
      ))}
      {content.context.map((c, i) => (
        <ContextSentence
          key={`context ${i}`}
          context={c}
          fixed={fixed}
          error={error(`context.${i}.pattern`)}
          set={(next) => context(content.context.with(i, next))}
          takeOut={() => context(content.context.filter((_, k) => k !== i))}
        />
      ))}
      {!fixed && (
        <Sentence label="Add">
          <Slot
            label="Add a check"
            words="a check on it"
            edit={{
              kind: 'choice',
              value: '',
              options: CHECK_OPTIONS,
              set: (kind) => checks([...content.checks, newCheck(kind as Check['check'])]),
            }}
          />{' '}
          ·{' '}
          <Slot
            label="Add what makes it surer"
            words="what makes it surer"
            edit={{
              kind: 'text',
              most: 400,
              value: '',
              hint: 'Words that stand before it, parted by commas.',
              check: (t) => (wordsOf(t).length === 0 ? 'At least one word.' : ''),
              set: (t) =>
                context([...content.context, { where: 'before', within: 40, words: wordsOf(t), steps: 3 }]),
            }}
          />{' '}
          ·{' '}
          <Slot
            label="Add what makes it less sure"
            words="what makes it less sure"
            edit={{
              kind: 'text',
              most: 400,
              value: '',
              hint: 'Words that stand before it, parted by commas.',
              check: (t) => (wordsOf(t).length === 0 ? 'At least one word.' : ''),
              set: (t) =>
                context([...content.context, { where: 'before', within: 40, words: wordsOf(t), steps: -4 }]),
            }}
          />
        </Sentence>
      )}
      <Sentence label="Never">
        <Slot
          label="Values that never count"
          words={content.exclude.values.length > 0 ? some(content.exclude.values) : 'no value is left out'}
          fixed={fixed}
          edit={{
            kind: 'text',
            long: true,
            most: 200_000,
            value: content.exclude.values.join('\n'),
            hint: 'One value a line; spaces and signs in it do not matter.',
            set: (t) => set({ ...content, exclude: { ...content.exclude, values: linesOf(t) } }),
          }}
        />
        , nor what is written like{' '}
        <Slot
          label="Patterns that never count"
          code={content.exclude.patterns.length > 0}
          words={content.exclude.patterns.length > 0 ? content.exclude.patterns.join(' or ') : 'nothing'}
          error={error('exclude.patterns.0')}
          fixed={fixed}
          edit={{
            kind: 'text',
            long: true,
            most: 20_000,
            value: content.exclude.patterns.join('\n'),
            hint: 'One pattern a line.',
            check: (t) => linesOf(t).map(patternFault).find(Boolean) ?? '',
            set: (t) => set({ ...content, exclude: { ...content.exclude, patterns: linesOf(t) } }),
          }}
        />
      </Sentence>
      <Sentence label="Counts">
        from{' '}
        <PercentSlot
          label="Counts from"
          share={content.keepFrom}
          fixed={fixed}
          set={(keepFrom) => set({ ...content, keepFrom })}
        />{' '}
        on, in a document with{' '}
        <Slot
          label="Distinct values"
          words={content.atLeast === 1 ? 'one value' : `${content.atLeast} distinct values`}
          fixed={fixed}
          edit={{
            kind: 'number',
            unit: 'distinct values',
            least: 1,
            most: 10_000,
            value: content.atLeast,
            set: (atLeast) => set({ ...content, atLeast }),
          }}
        />{' '}
        or more; where another detector reads the same characters,{' '}
        <Slot
          label="Several readings"
          words={content.competes ? 'the surer one has them' : 'both have them'}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: String(content.competes),
            options: [
              { value: 'true', words: 'the surer one has them' },
              { value: 'false', words: 'both have them' },
            ],
            set: (v) => set({ ...content, competes: v === 'true' }),
          }}
        />
      </Sentence>
      <Sentence label="Shown">
        <Slot
          label="Masked"
          words={MASKS[content.mask]}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: content.mask,
            options: Object.entries(MASKS).map(([value, words]) => ({ value, words })),
            set: (v) => set({ ...content, mask: v as PatternDetector['mask'] }),
          }}
        />
        , as{' '}
        <Slot
          label="Category"
          words={content.category}
          fixed={fixed}
          edit={{
            kind: 'choice',
            value: content.category,
            options: CATEGORIES.map((c) => ({ value: c, words: c })),
            set: (v) => set({ ...content, category: v as PatternDetector['category'] }),
          }}
        />
        , after{' '}
        <Slot
          label="Source of its shape"
          words={content.source || 'no source named'}
          fixed={fixed}
          edit={{
            kind: 'text',
            most: 500,
            value: content.source,
            set: (source) => set({ ...content, source }),
          }}
        />
      </Sentence>
    </>
  );
}

const MASKS: Readonly<Record<PatternDetector['mask'], string>> = {
  ends: 'with only its ends to be read',
  all: 'wholly masked',
  none: 'as it stands',
};

function AnchorSentence({ content, set, fixed, error }: PatternSentencesProps) {
  const { anchor } = content;
  const [examples, setExamples] = useState('');
  const body = anchor.by === 'pattern' ? bodyOfAlone(anchor.pattern) : undefined;
  const to = (by: string) => {
    if (by === anchor.by) return;
    if (by === 'words') set({ ...content, anchor: { by: 'words', words: ['?'] } });
    else if (by === 'pattern')
      set({
        ...content,
        anchor: {
          by: 'pattern',
          pattern: standAlone(anchor.by === 'words' ? anchor.words.map(escaped).join('|') : '\\d{6}'),
          ignoreCase: false,
        },
      });
    else set({ ...content, anchor: { by: 'function', name: by as 'field', headings: [] } });
  };
  return (
    <Sentence label="Looks for">
      <Slot
        label="Kind of anchor"
        words={ANCHORS[anchor.by === 'function' ? anchor.name : anchor.by]}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: anchor.by === 'function' ? anchor.name : anchor.by,
          options: Object.entries(ANCHORS).map(([value, words]) => ({ value, words })),
          set: to,
        }}
      />{' '}
      {anchor.by === 'pattern' && (
        <>
          <Slot
            label="Pattern"
            code
            words={body ?? anchor.pattern}
            error={error('anchor.pattern') ?? error('anchor')}
            fixed={fixed}
            edit={{
              kind: 'text',
              most: 4000,
              value: body ?? anchor.pattern,
              hint: 'A regular expression (ECMAScript, Unicode).',
              check: patternFault,
              set: (p) =>
                set({ ...content, anchor: { ...anchor, pattern: body === undefined ? p : standAlone(p) } }),
            }}
          />
          {!fixed && (
            <>
              {' '}
              (or{' '}
              <Slot
                label="Make the pattern from examples"
                words="made from examples"
                edit={{
                  kind: 'text',
                  long: true,
                  most: 4000,
                  value: examples,
                  hint: 'One a line, just as they are written.',
                  check: (t) => (linesOf(t).length === 0 ? 'At least one example.' : ''),
                  set: (t) => {
                    setExamples(t);
                    set({ ...content, anchor: { ...anchor, pattern: patternFromExamples(linesOf(t)) } });
                  },
                }}
              />
              )
            </>
          )}
          , in{' '}
          <Slot
            label="Capitals"
            words={anchor.ignoreCase ? 'capitals or not' : 'just these capitals'}
            fixed={fixed}
            edit={{
              kind: 'choice',
              value: String(anchor.ignoreCase),
              options: [
                { value: 'false', words: 'just these capitals' },
                { value: 'true', words: 'capitals or not' },
              ],
              set: (v) => set({ ...content, anchor: { ...anchor, ignoreCase: v === 'true' } }),
            }}
          />
          ,{' '}
          <Slot
            label="Where it may stand"
            words={body === undefined ? 'anywhere' : 'as no part of a longer word or number'}
            fixed={fixed}
            edit={{
              kind: 'choice',
              value: String(body !== undefined),
              options: [
                { value: 'true', words: 'as no part of a longer word or number' },
                { value: 'false', words: 'anywhere' },
              ],
              set: (v) =>
                set({
                  ...content,
                  anchor: {
                    ...anchor,
                    pattern:
                      v === 'true'
                        ? body === undefined
                          ? standAlone(anchor.pattern)
                          : anchor.pattern
                        : (body ?? anchor.pattern),
                  },
                }),
            }}
          />
        </>
      )}
      {anchor.by === 'words' && (
        <Slot
          label="Words"
          words={anchor.words.join() === '?' ? '' : some(anchor.words)}
          error={error('anchor.words') ?? error('anchor')}
          fixed={fixed}
          edit={{
            kind: 'text',
            long: true,
            most: 200_000,
            value: anchor.words.join() === '?' ? '' : anchor.words.join('\n'),
            hint: 'One word or phrase a line; a star at its end stands for any ending.',
            check: (t) => (linesOf(t).length === 0 ? 'At least one word.' : ''),
            set: (t) => set({ ...content, anchor: { by: 'words', words: linesOf(t) } }),
          }}
        />
      )}
      {anchor.by === 'function' && (
        <>
          also under headings such as{' '}
          <Slot
            label="Headings"
            words={anchor.headings.length > 0 ? some(anchor.headings) : 'none'}
            fixed={fixed}
            edit={{
              kind: 'text',
              long: true,
              most: 100_000,
              value: anchor.headings.join('\n'),
              hint: 'One heading a line.',
              set: (t) => set({ ...content, anchor: { ...anchor, headings: linesOf(t) } }),
            }}
          />
        </>
      )}
      ; alone that is{' '}
      <Slot
        label="Alone that is"
        words={`${percentWords(confidence(content.start))} sure`}
        fixed={fixed}
        edit={{
          kind: 'choice',
          value: String(content.start),
          options: withValue(
            [-6, -4, -3, -2, -1, 0, 1, 2, 3, 4].map((s) => ({
              value: String(s),
              words: `${percentWords(confidence(s))} sure`,
              detail: bandOf(confidence(s)),
            })),
            String(content.start),
          ),
          set: (v) => set({ ...content, start: Number(v) }),
        }}
      />
    </Sentence>
  );
}

const ANCHORS: Readonly<Record<string, string>> = {
  pattern: 'what is written like',
  words: 'the words',
  'person name': 'names of people,',
  field: 'what was written into a field,',
};

const WHERE: Readonly<Record<Context['where'], string>> = {
  before: 'before it',
  after: 'after it',
  around: 'on either side of it',
  line: 'in the same line',
  sentence: 'in the same sentence',
  cell: 'in the same cell',
  heading: 'in the heading of its column or the name of its field',
};

function ContextSentence({
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
        <Slot
          label="Words"
          words={some(c.words ?? [])}
          fixed={fixed}
          edit={{
            kind: 'text',
            long: true,
            most: 20_000,
            value: (c.words ?? []).join('\n'),
            hint: 'One word or phrase a line; a star at its end stands for any ending.',
            check: (t) => (linesOf(t).length === 0 ? 'At least one word.' : ''),
            set: (t) => set({ ...rest, words: linesOf(t) }),
          }}
        />
      ) : kind === 'pattern' ? (
        <Slot
          label="Pattern"
          code
          words={c.pattern ?? ''}
          error={error}
          fixed={fixed}
          edit={{
            kind: 'text',
            most: 4000,
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

export function StepsSlot({
  steps,
  fixed,
  set,
}: {
  readonly steps: number;
  readonly fixed: boolean;
  readonly set: (steps: number) => void;
}) {
  if (fixed) return <StepFigure steps={steps} />;
  return (
    <Slot
      label="What it does to the odds"
      words={stepsWords(steps)}
      edit={{
        kind: 'choice',
        value: String(steps),
        options: withValue(
          [6, 4, 3, 2, 1, -1, -2, -3, -4, -6, -8].map((s) => ({ value: String(s), words: stepsWords(s) })),
          String(steps),
        ),
        set: (v) => set(Number(v)),
      }}
    />
  );
}

function stepsWords(steps: number): string {
  const factor = Math.round(2 ** Math.abs(steps) * 10) / 10;
  return `odds ${steps >= 0 ? '×' : '÷'} ${factor}`;
}

function withValue(options: readonly Option[], value: string): readonly Option[] {
  if (options.some((o) => o.value === value)) return options;
  return [...options, { value, words: `as it is (${value} steps)` }];
}

function TakeOut({ what, act }: { readonly what: string; readonly act: () => void }) {
  return (
    <Button kind="quiet" className={css['takeOut']} aria-label={`Take out ${what}`} onClick={act}>
      <X size={13} aria-hidden />
    </Button>
  );
}

export function linesOf(text: string): string[] {
  return text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean);
}

export function wordsOf(text: string): string[] {
  return text
    .split(/[,\n]/)
    .map((w) => w.trim())
    .filter(Boolean);
}

export function patternFault(text: string): string {
  if (text === '') return 'The pattern is empty.';
  try {
    new RegExp(text, 'u');
    return '';
  } catch (error) {
    return `${(error as Error).message.replace(/^Invalid regular expression: /, '')}.`;
  }
}

function escaped(word: string): string {
  return word.replace(/[\\^$.*+?()[\]{}|/]/g, '\\$&');
}

export function some(words: readonly string[], most = 6): string {
  const shown = words
    .slice(0, most)
    .map((w) => `“${w}”`)
    .join(', ');
  return words.length > most ? `${shown} and ${words.length - most} more` : shown;
}
