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
  /** One of a list that can be taken out of it: where it stands, and what that is called. */
  readonly item?: { readonly path: readonly string[]; readonly what: string };
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
  /** Written by a machine or for one. */
  readonly code?: boolean;
  /** Where what is edited is not just the value at the path. */
  readonly turn?: Turn;
}

/** What a slot holds of a content, and the content with something else in it. */
export interface Turn {
  read(content: Json): Json;
  write(content: Json, value: Json): Json;
}

export interface SlotOption {
  readonly value: string;
  readonly words: string;
  readonly detail?: string;
  /** Why it cannot be chosen; absent where it can. */
  readonly whyNot?: string;
}

/** How something typed becomes one of many values. */
export interface SlotAdd {
  readonly hint: string;
  read(text: string): { readonly value: string } | { readonly wrong: string };
}

/** How a value is edited. Lengths in characters. */
export type SlotEditor =
  | {
      readonly kind: 'choice';
      readonly options: readonly SlotOption[];
      /** A value that is none of them is one more. */
      readonly open?: boolean;
    }
  | {
      readonly kind: 'many';
      readonly options: readonly SlotOption[];
      /** Reads what somebody typed that is none of them; absent where only those can be taken. */
      readonly add?: SlotAdd;
    }
  | { readonly kind: 'number'; readonly unit: string; readonly least: number; readonly most: number }
  /** With what it reads where there is no day, if that may be. */
  | { readonly kind: 'date'; readonly none?: string }
  /** A length of time, or one of some values besides. */
  | { readonly kind: 'period'; readonly also?: readonly SlotOption[] }
  /** A condition on items, typed as lenses are written. */
  | { readonly kind: 'lens' }
  | {
      readonly kind: 'text';
      readonly most: number;
      readonly long?: boolean;
      /** In the small markup of texts that visitors read. */
      readonly rich?: boolean;
      readonly colour?: boolean;
      readonly hint?: string;
      /** What is wrong with what is typed; empty where nothing is. */
      readonly check?: (text: string) => string;
    }
  /** Many words or values, one a line while they are edited. */
  | {
      readonly kind: 'lines';
      readonly most: number;
      readonly hint: string;
      readonly check?: (text: string) => string;
    };

/** What is written a line each, without what is empty. */
export function linesOf(text: string): string[] {
  return text
    .split('\n')
    .map((l) => l.trim())
    .filter(Boolean);
}

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
export function fillSlot<T>(content: T, { path, turn }: Pick<SlotPart, 'path' | 'turn'>, value: Json): T {
  return (turn ? turn.write(content as Json, value) : putAt(content as Json, path, value)) as T;
}

/** The content with a value at a path; a step into a list is the place in it. */
export function putAt(content: Json, path: readonly string[], value: Json): Json {
  const at = path.findIndex((_, i) => Array.isArray(valueAt(content, path.slice(0, i))));
  const list = at < 0 ? [] : (valueAt(content, path.slice(0, at)) as readonly Json[]);
  const place = Number(path[at]);
  // A step that names no place in the list is none in it.
  if (String(place) !== path[at] || !Object.hasOwn(list, place)) return put(content, path, value);
  const item = putAt(list[place] as Json, path.slice(at + 1), value);
  return putAt(content, path.slice(0, at), list.with(place, item));
}

/** What a slot holds in this content; `undefined` where something on the way is missing. */
export function slotValue(
  { path, turn }: Pick<SlotPart, 'path' | 'turn'>,
  content: unknown,
): Json | undefined {
  return turn ? turn.read(content as Json) : valueAt(content as Json, path);
}

/** The content without one item of a list. */
export function takenOut<T>(content: T, path: readonly string[]): T {
  const [list, at] = [path.slice(0, -1), Number(path.at(-1))];
  const all = valueAt(content as Json, list);
  return Array.isArray(all)
    ? (putAt(
        content as Json,
        list,
        all.filter((_, i) => i !== at),
      ) as T)
    : content;
}

/** What a slot reads, in this content. */
export function slotWords(slot: SlotPart, content: unknown): string {
  const value = slotValue(slot, content);
  return value === undefined ? '' : slot.say(value);
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
