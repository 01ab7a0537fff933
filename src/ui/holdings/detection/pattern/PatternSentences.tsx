import {
  CATEGORIES,
  type Check,
  type Context,
  type PatternDetector,
} from '../../../../core/holdings/detection/detector/detector.ts';
import { PercentSlot } from '../../../parts/PercentSlot.tsx';
import { Sentence } from '../../../parts/Sentence.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { AnchorSentence } from './AnchorSentence.tsx';
import { CheckWords, newCheck, CHECK_OPTIONS } from './CheckWords.tsx';
import { ContextSentence } from './ContextSentence.tsx';
import { LinesSlot } from './LinesSlot.tsx';
import { linesOf, patternFault, wordsOf } from './slot-text.ts';
import type { PatternSentencesProps } from './pattern-sentences-props.ts';
import { TakeOut } from '../detectors/TakeOut.tsx';

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
        <LinesSlot
          label="Values that never count"
          lines={content.exclude.values}
          none="no value is left out"
          fixed={fixed}
          hint="One value a line; spaces and signs in it do not matter."
          set={(values) => set({ ...content, exclude: { ...content.exclude, values } })}
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
