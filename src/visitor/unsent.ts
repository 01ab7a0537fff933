import type { ChoiceArriving } from '../core/websites/notice/consent.ts';

/** A choice that is not yet known to be on record. */
export interface Unsent extends ChoiceArriving {
  /** Unix seconds of the choice. */
  readonly at: number;
}

/** Where they are kept. */
export const UNSENT = 'yare_unsent';
const MOST = 20;
/** As long as the service knows a choice that is sent again. */
const KEPT_SECONDS = 35 * 86_400;

/** Choices in the order they were made, kept in the browser until each is on record. */
export class UnsentChoices {
  /** For pages whose storage is closed. */
  #memory: readonly Unsent[] = [];

  constructor(readonly storage: () => Storage) {}

  all(now: number): readonly Unsent[] {
    return this.#read().filter((u) => now - u.at < KEPT_SECONDS);
  }

  add(unsent: Unsent): void {
    this.#write([...this.#read(), unsent].slice(-MOST));
  }

  remove(choiceKey: string): void {
    this.#write(this.#read().filter((u) => u.choiceKey !== choiceKey));
  }

  #read(): readonly Unsent[] {
    try {
      const text = this.storage().getItem(UNSENT);
      return text === null ? [] : (JSON.parse(text) as unknown[]).filter(isUnsent);
    } catch {
      return this.#memory;
    }
  }

  #write(all: readonly Unsent[]): void {
    this.#memory = all;
    try {
      if (all.length === 0) this.storage().removeItem(UNSENT);
      else this.storage().setItem(UNSENT, JSON.stringify(all));
    } catch {
      // Kept for this page, then.
    }
  }
}

/** Others write to the same storage: only what looks like ours is taken. */
function isUnsent(value: unknown): value is Unsent {
  const u = value as Partial<Unsent> | null;
  return (
    typeof u === 'object' &&
    u !== null &&
    typeof u.choiceKey === 'string' &&
    typeof u.visitorKey === 'string' &&
    typeof u.at === 'number' &&
    Array.isArray(u.allowed)
  );
}
