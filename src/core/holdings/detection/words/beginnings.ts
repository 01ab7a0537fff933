/** What begins with a word. */
export interface Beginnings {
  /** The sets that have the word itself, or a stem of it. */
  readonly alone: readonly number[];
  /** Other sets, with the word that has to follow. */
  readonly followed: readonly { readonly next: string; readonly sets: readonly number[] }[];
  /** By the number of a set: 1 where it is one of either. */
  readonly of: Uint8Array;
}

/** Gives sets of phrases their numbers, and is told what they begin with. */
export interface PhraseNumbers {
  next(): number;
  addWord(word: string, following: string | undefined, number: number): void;
  addStem(stem: string, number: number): void;
}
