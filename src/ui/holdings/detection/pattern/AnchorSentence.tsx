import { useState } from 'react';
import { bandOf, confidence } from '../../../../core/holdings/detection/detector/confidence.ts';
import {
  bodyOfAlone,
  patternFromExamples,
  standAlone,
} from '../../../../core/holdings/detection/pattern/pattern-example.ts';
import { percentWords } from '../../../desk/words.ts';
import { shortCode } from '../../../parts/LongCode.tsx';
import { Sentence } from '../../../parts/Sentence.tsx';
import { Slot } from '../../../parts/Slot.tsx';
import { FieldSlots } from './FieldSlots.tsx';
import { atLeastOneWord, LinesSlot, WORD_LINES } from './LinesSlot.tsx';
import type { PatternSentencesProps } from './pattern-sentences-props.ts';
import { escaped, linesOf, patternFault } from './slot-text.ts';
import { withValue } from './StepsSlot.tsx';

/** What a pattern detector looks for first. */
export function AnchorSentence({ content, set, fixed, error }: PatternSentencesProps) {
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
            words={shortCode(body ?? anchor.pattern)}
            error={error('anchor.pattern') ?? error('anchor')}
            fixed={fixed}
            edit={{
              kind: 'text',
              most: 12_000,
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
                  most: 12_000,
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
        <>
          <LinesSlot
            label="Words"
            lines={anchor.words.join() === '?' ? [] : anchor.words}
            error={error('anchor.words') ?? error('anchor')}
            fixed={fixed}
            hint={WORD_LINES}
            check={atLeastOneWord}
            set={(words) => set({ ...content, anchor: { ...anchor, words } })}
          />
          , or what is written like{' '}
          <Slot
            label="Or written like"
            code={anchor.pattern !== undefined}
            words={shortCode(anchor.pattern ?? 'nothing else')}
            error={error('anchor.pattern')}
            fixed={fixed}
            edit={{
              kind: 'text',
              most: 12_000,
              value: anchor.pattern ?? '',
              hint: 'A regular expression (ECMAScript, Unicode), in capitals or not; empty for none.',
              check: (p) => (p === '' ? '' : patternFault(p)),
              set: (p) => {
                const { pattern: _, ...rest } = anchor;
                set({ ...content, anchor: p === '' ? rest : { ...rest, pattern: p } });
              },
            }}
          />
        </>
      )}
      {anchor.by === 'function' && (
        <>
          also under headings such as{' '}
          <LinesSlot
            label="Headings"
            lines={anchor.headings}
            none="none"
            fixed={fixed}
            hint="One heading a line."
            set={(headings) => set({ ...content, anchor: { ...anchor, headings } })}
          />
        </>
      )}
      {anchor.by !== 'function' && (
        <FieldSlots anchor={anchor} fixed={fixed} error={error} set={(a) => set({ ...content, anchor: a })} />
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
