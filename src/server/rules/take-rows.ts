import { change, inWords, type Json, type Vocabulary } from '../../core/rules/change.ts';

/** What taking a table would do, object by object. */
export interface TakenRows {
  readonly added: readonly string[];
  readonly changed: readonly { readonly name: string; readonly words: readonly string[] }[];
  readonly same: number;
}

/** By its name in small letters: what is there, as a table may change it. */
export type KnownByName<T> = ReadonlyMap<string, { readonly id: string; readonly content: T }>;

/**
 * Has what a table says of objects written: those whose name is known are changed, the others added, and none is taken out.
 * Without `write` it only tells what it would do.
 */
export async function takeRows<T extends { readonly name: string }>(
  contents: readonly T[],
  known: KnownByName<T>,
  vocabulary: Vocabulary,
  write?: {
    add(content: T): Promise<unknown>;
    edit(id: string, content: T): Promise<unknown>;
  },
): Promise<TakenRows> {
  const added: string[] = [];
  const changed: TakenRows['changed'][number][] = [];
  let same = 0;
  for (const content of contents) {
    const before = known.get(content.name.toLowerCase());
    if (!before) {
      added.push(content.name);
      await write?.add(content);
      continue;
    }
    const difference = change(before.content as Json, content as Json);
    if (difference.length === 0) {
      same++;
      continue;
    }
    changed.push({ name: content.name, words: inWords(difference, vocabulary) });
    await write?.edit(before.id, content);
  }
  return { added, changed, same };
}

export function byName<T extends { readonly name: string }>(
  all: readonly { readonly id: string; readonly content: T }[],
): KnownByName<T> {
  return new Map(all.map((one) => [one.content.name.toLowerCase(), one]));
}

/** The contents alone, by the same names. */
export function contentsOf<T>(known: KnownByName<T>): ReadonlyMap<string, T> {
  return new Map([...known].map(([name, { content }]) => [name, content]));
}
