import { put, type Json, type Vocabulary } from './change.ts';

/**
 * A rule as prose, as a value: from it come the slots that are edited in place, the plain text of letters and documents,
 * and the words the ledger has for a change.
 */
export type Sentence = readonly SentenceLine[];

export interface SentenceLine {
  /** Stands at the margin, and begins the line in plain text. */
  readonly label: string;
  readonly parts: readonly Part[];
}

/** Words, or a slot for a value. */
export type Part = string | SlotPart;

export interface SlotPart {
  /** Where in the content its value stands. */
  readonly path: readonly string[];
  readonly label: string;
  /** What the ledger calls it, where the line it stands in would not tell. */
  readonly told?: string;
  readonly editor: SlotEditor;
  /** A value as it reads in the line. */
  say(value: Json): string;
}

export interface SlotOption {
  readonly value: string;
  readonly words: string;
  readonly detail?: string;
}

/** How a value is edited. Lengths in characters. */
export type SlotEditor =
  | { readonly kind: 'choice' | 'many'; readonly options: readonly SlotOption[] }
  | { readonly kind: 'number'; readonly unit: string; readonly least: number; readonly most: number }
  | { readonly kind: 'date' | 'period' }
  /** A condition on items, typed as lenses are written. */
  | { readonly kind: 'lens' }
  | {
      readonly kind: 'text';
      readonly most: number;
      readonly long?: boolean;
      readonly colour?: boolean;
      readonly hint?: string;
    };

export function slotsOf(sentence: Sentence): readonly SlotPart[] {
  return sentence.flatMap((line) => line.parts.filter((p) => typeof p !== 'string'));
}

/** The value at a path; `undefined` where something on the way is missing. */
export function valueAt(content: Json, path: readonly string[]): Json | undefined {
  return path.reduce<Json | undefined>(
    (value, key) =>
      typeof value === 'object' && value !== null && Object.hasOwn(value, key)
        ? (value as Record<string, Json>)[key]
        : undefined,
    content,
  );
}

/** The content with another value in a slot. */
export function fillSlot<T>(content: T, { path }: Pick<SlotPart, 'path'>, value: Json): T {
  return put(content as Json, path, value) as T;
}

/** What a slot reads, in this content. */
export function slotWords({ path, say }: SlotPart, content: unknown): string {
  const value = valueAt(content as Json, path);
  return value === undefined ? '' : say(value);
}

/** In plain text, a line each: “Ask visitors of … for Measurement.” */
export function sentenceText(sentence: Sentence, content: unknown): string {
  return sentence
    .map(({ label, parts }) => {
      const words = parts.map((p) => (typeof p === 'string' ? p : slotWords(p, content) || '…')).join('');
      return `${label} ${words}`.trim().replace(/[.]?$/, '.');
    })
    .join('\n');
}

/** The words for a change: each slot's label and how it reads; for what no slot holds, as `rest` says. */
export function sentenceVocabulary(slots: readonly SlotPart[], rest: Vocabulary = {}): Vocabulary {
  const byPath = new Map(slots.map((s) => [JSON.stringify(s.path), s]));
  const slotAt = (path: readonly string[]) => byPath.get(JSON.stringify(path));
  return {
    path: (path) => slotAt(path)?.told ?? slotAt(path)?.label ?? rest.path?.(path),
    value: (value, path) => slotAt(path)?.say(value) ?? rest.value?.(value, path),
  };
}
