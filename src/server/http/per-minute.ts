import { truncateAddress } from '../../core/address.ts';
import { RefusedError } from '../../core/refusal.ts';

const MOST_COUNTED = 100_000;

/** Counts what comes from each network, a /24 or a /48, within a minute by the clock. */
export class PerMinute {
  readonly #counts = new Map<string, number>();
  #minute = 0;

  constructor(
    readonly most: number,
    readonly words: string,
  ) {}

  /** One more from the network of an address. Throws as `countOne` does. */
  count(address: string, now = Date.now()): void {
    this.countOne(truncateAddress(address) ?? 'unknown', now);
  }

  /** One more of whatever a key stands for. Throws a RefusedError (429) whose detail tells the seconds to wait. */
  countOne(of: string, now: number): void {
    const minute = Math.floor(now / 60_000);
    if (minute !== this.#minute) {
      this.#minute = minute;
      this.#counts.clear();
    }
    // Under a flood from everywhere, whoever comes last shares one count.
    const key = this.#counts.has(of) || this.#counts.size < MOST_COUNTED ? of : 'others';
    const n = (this.#counts.get(key) ?? 0) + 1;
    this.#counts.set(key, n);
    if (n > this.most)
      throw new RefusedError(this.words, [], 429, {
        retryAfter: Math.ceil(((minute + 1) * 60_000 - now) / 1000),
      });
  }
}
