import { Lens } from '../../core/lens/lens.ts';
import { LensTextError, lensText, parseLens } from '../../core/lens/lens-text.ts';
import type { Json } from '../../core/rules/change.ts';
import {
  fillSlot,
  slotWords,
  valueAt,
  type Sentence as SentenceValue,
  type SlotPart,
} from '../../core/rules/sentence.ts';
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
  return sentence.map(({ label, parts }) => (
    <Sentence key={label} label={label}>
      {parts.map((part, i) =>
        typeof part === 'string' ? (
          part
        ) : (
          <SentenceSlot
            key={part.path.join('.') || i}
            slot={part}
            content={content}
            fixed={fixed}
            error={error?.(part.path)}
            put={(slot, value) => set(fillSlot(content, slot, value))}
          />
        ),
      )}
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
  const value = valueAt(content as Json, slot.path);
  const isColour = slot.editor.kind === 'text' && slot.editor.colour;
  const shown = (
    <Slot
      label={slot.label}
      words={slotWords(slot, content)}
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

function editOf({ editor }: SlotPart, value: Json | undefined, set: (value: Json) => void): SlotKind {
  switch (editor.kind) {
    case 'choice':
      return { ...editor, kind: 'choice', value: String(value ?? ''), set };
    case 'many':
      return {
        ...editor,
        kind: 'many',
        value: Array.isArray(value) ? (value as string[]) : [],
        set: (many) => set([...many]),
      };
    case 'number':
      return { ...editor, value: Number(value ?? editor.least), set };
    case 'date':
      return { kind: 'date', value: String(value ?? ''), set };
    case 'period':
      return {
        kind: 'period',
        value: (value ?? { count: 1, unit: 'months' }) as unknown as Period,
        set: ({ count, unit }) => set({ count, unit }),
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
    case 'text':
      return { ...editor, value: String(value ?? ''), set: (text: string) => set(text.trim()) };
  }
}
