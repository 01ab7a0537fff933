import { Lens } from '../../core/lens/lens.ts';
import { LensTextError, lensText, parseLens } from '../../core/lens/lens-text.ts';
import type { Json } from '../../core/rules/change.ts';
import {
  fillSlot,
  linesOf,
  slotValue,
  slotWords,
  takenOut,
  type Sentence as SentenceValue,
  type SlotPart,
} from '../../core/rules/sentence.ts';
import { shortCode } from '../parts/LongCode.tsx';
import { TakeOut } from '../parts/TakeOut.tsx';
import { Sentence } from '../parts/Sentence.tsx';
import { Slot, type SlotKind } from '../parts/Slot.tsx';
import type { Period } from '../parts/ValueEditors.tsx';
import css from './RuleSentence.module.css';

interface RuleSentenceProps<T> {
  readonly sentence: SentenceValue;
  readonly content: T;
  readonly set: (content: T) => void;
  /** For someone who may not edit. */
  readonly fixed: boolean;
  /** What is wrong with the value at a path. */
  readonly error?: (path: readonly string[]) => string | undefined;
}

/** A rule as its sentence says it, each slot edited in place. */
export function RuleSentence<T>({ sentence, content, set, fixed, error }: RuleSentenceProps<T>) {
  return sentence.map(({ label, parts, item }, line) => (
    <Sentence key={`${label} ${line}`} label={label}>
      {parts.map((part, i) =>
        typeof part === 'string' ? (
          part
        ) : (
          <SentenceSlot
            key={`${part.path.join('.')} ${i}`}
            slot={part}
            content={content}
            fixed={fixed}
            error={error?.(part.path)}
            put={(slot, value) => set(fillSlot(content, slot, value))}
          />
        ),
      )}
      {item && !fixed && <TakeOut what={item.what} act={() => set(takenOut(content, item.path))} />}
    </Sentence>
  ));
}

/** One slot of a sentence. */
export function SentenceSlot({
  slot,
  content,
  fixed,
  error,
  put,
}: {
  readonly slot: SlotPart;
  readonly content: unknown;
  readonly fixed: boolean;
  readonly error?: string | undefined;
  readonly put: (slot: SlotPart, value: Json) => void;
}) {
  const value = slotValue(slot, content);
  const isColour = slot.editor.kind === 'text' && slot.editor.colour;
  const shown = (
    <Slot
      label={slot.label}
      words={slot.code ? shortCode(slotWords(slot, content)) : slotWords(slot, content)}
      code={slot.code}
      fixed={fixed}
      error={error}
      edit={editOf(slot, value, (v) => put(slot, v))}
    />
  );
  if (!isColour) return shown;
  return (
    <span className={css['colour']}>
      <span className={css['swatch']} style={{ background: String(value) }} aria-hidden /> {shown}
    </span>
  );
}

function isPeriod(value: unknown): value is Period {
  return typeof value === 'object' && value !== null && 'count' in value && 'unit' in value;
}

function lensLine(value: Json | undefined): string {
  const lens = Lens.safeParse(value);
  return lens.success ? lensText(lens.data) : '';
}

function lensFault(line: string): string {
  try {
    parseLens(line);
    return '';
  } catch (error) {
    if (error instanceof LensTextError) return error.message;
    throw error;
  }
}

function editOf({ editor, say }: SlotPart, value: Json | undefined, set: (value: Json) => void): SlotKind {
  switch (editor.kind) {
    case 'choice': {
      const chosen = String(value ?? '');
      const other = editor.open === true && !editor.options.some((o) => o.value === chosen);
      const options = other ? [...editor.options, { value: chosen, words: say(chosen) }] : editor.options;
      return { kind: 'choice', options, value: chosen, set };
    }
    case 'many': {
      const chosen = Array.isArray(value) ? (value as string[]) : [];
      const others = chosen.filter((v) => !editor.options.some((o) => o.value === v));
      return {
        kind: 'many',
        options: [...editor.options, ...others.map((v) => ({ value: v, words: say([v]) }))],
        value: chosen,
        set: (many) => set([...many]),
        ...(editor.add ? { add: editor.add } : {}),
      };
    }
    case 'number':
      return { ...editor, value: Number(value ?? editor.least), set };
    case 'date':
      return {
        kind: 'date',
        value: String(value ?? ''),
        set,
        ...(editor.none === undefined ? {} : { none: editor.none }),
      };
    case 'period':
      return {
        kind: 'period',
        value: isPeriod(value) ? value : undefined,
        set: ({ count, unit }) => set({ count, unit }),
        also: (editor.also ?? []).map((o) => ({ ...o, choose: () => set(o.value) })),
      };
    case 'lens':
      return {
        kind: 'text',
        long: true,
        most: 8000,
        value: lensLine(value),
        hint: 'As a lens is written: data one of "payment-card" and people at least 5',
        check: lensFault,
        set: (line) => set(parseLens(line) as Json),
      };
    case 'lines':
      return {
        ...editor,
        kind: 'text',
        long: true,
        value: Array.isArray(value) ? value.join('\n') : '',
        set: (text) => set(linesOf(text)),
      };
    case 'text':
      return { ...editor, value: String(value ?? ''), set: (text: string) => set(text.trim()) };
  }
}
