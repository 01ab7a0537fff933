/** An answer of which nothing came for so long is as read as it will be: a script need not read what it fetched. */
const ANSWERED_MS = 250;
/** So long is waited for what expects no answer, and for a picture, which may be slow and still set something. */
const UNANSWERED_MS: Readonly<Record<string, number>> = { ping: 2000, cspviolationreport: 2000, image: 4000 };

/** Kinds whose answer a script may leave unread, so that the browser never tells of its end. */
const MAY_BE_LEFT = /^(?:fetch|xhr|ping|other|eventsource)$/;

/**
 * What a page has asked for and waits for. What the browser tells no end of does not hold it for ever: an answer that came and
 * is not read, and what was sent without expecting one.
 */
export class InFlight {
  readonly #ids = new Map<string, NodeJS.Timeout | undefined>();
  /** Those whose answer has begun and has not ended. */
  readonly #answered = new Set<string>();

  get size(): number {
    return this.#ids.size;
  }

  /** Something was asked for; `kind` as the browser names it, in small letters. */
  begin(id: string, kind = ''): void {
    this.#hold(id, UNANSWERED_MS[kind]);
  }

  /** Its answer has begun. */
  answered(id: string, kind: string): void {
    if (!this.#ids.has(id) || !MAY_BE_LEFT.test(kind)) return;
    this.#answered.add(id);
    this.#hold(id, ANSWERED_MS);
  }

  /** More of its answer came: somebody reads it, also after a pause. */
  more(id: string): void {
    if (this.#answered.has(id)) this.#hold(id, ANSWERED_MS);
  }

  /** `false` where it was not waited for any more. */
  end(id: string): boolean {
    clearTimeout(this.#ids.get(id));
    this.#answered.delete(id);
    return this.#ids.delete(id);
  }

  clear(): void {
    for (const timer of this.#ids.values()) clearTimeout(timer);
    this.#ids.clear();
    this.#answered.clear();
  }

  #hold(id: string, most: number | undefined): void {
    clearTimeout(this.#ids.get(id));
    this.#ids.set(id, most === undefined ? undefined : setTimeout(() => this.#ids.delete(id), most).unref());
  }
}
