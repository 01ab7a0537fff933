import { RefusedError } from '../../core/refusal.ts';

export interface ShareLimits {
  /** At once, of one person and of all. */
  readonly each: number;
  readonly all: number;
  /** How many of all may wait for their turn, and how long. */
  readonly waiting: number;
  readonly waitMs: number;
}

interface Waiting {
  readonly who: string;
  readonly start: () => void;
}

/**
 * Divides what costs time and memory among those who ask for it: so much at once for one person, so much in all, the
 * rest in turn, and no more than will be answered.
 */
export class Share {
  readonly #running = new Map<string, number>();
  #waiting: Waiting[] = [];
  #all = 0;

  constructor(
    /** What is going on, as in “Too many texts are read at once”. */
    readonly what: string,
    readonly limits: ShareLimits,
  ) {}

  /** Throws a RefusedError (429) where no turn comes. */
  async use<T>(who: string | number, work: () => Promise<T>): Promise<T> {
    const end = await this.begin(who);
    try {
      return await work();
    } finally {
      end();
    }
  }

  /** For what goes on after its answer has begun: returns what ends it. Throws a RefusedError (429). */
  async begin(who: string | number): Promise<() => void> {
    const name = String(who);
    await this.#turn(name);
    let over = false;
    return () => {
      if (over) return;
      over = true;
      this.#all--;
      const left = (this.#running.get(name) ?? 1) - 1;
      if (left > 0) this.#running.set(name, left);
      else this.#running.delete(name);
      this.#next();
    };
  }

  #turn(who: string): Promise<void> {
    if (this.#fits(who)) {
      this.#take(who);
      return Promise.resolve();
    }
    const mine = this.#waiting.filter((w) => w.who === who).length;
    if (this.#waiting.length >= this.limits.waiting || mine >= Math.max(1, this.limits.waiting / 2))
      return Promise.reject(this.#refusal());
    return new Promise((started, refused) => {
      const timer = setTimeout(() => {
        this.#waiting = this.#waiting.filter((w) => w !== waiting);
        refused(this.#refusal());
      }, this.limits.waitMs);
      const waiting: Waiting = {
        who,
        start: () => {
          clearTimeout(timer);
          started();
        },
      };
      this.#waiting.push(waiting);
    });
  }

  #fits(who: string): boolean {
    return this.#all < this.limits.all && (this.#running.get(who) ?? 0) < this.limits.each;
  }

  #take(who: string): void {
    this.#all++;
    this.#running.set(who, (this.#running.get(who) ?? 0) + 1);
  }

  /** Starts whoever has waited longest and has none too many. */
  #next(): void {
    const next = this.#waiting.find((w) => this.#fits(w.who));
    if (!next) return;
    this.#waiting = this.#waiting.filter((w) => w !== next);
    this.#take(next.who);
    next.start();
  }

  #refusal(): RefusedError {
    return new RefusedError(`Too many ${this.what} at once. Wait a moment, then try again.`, [], 429, {
      retryAfter: Math.ceil(this.limits.waitMs / 1000),
    });
  }
}
