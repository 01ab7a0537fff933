import { RefusedError } from '../../../core/refusal.ts';
import type { Receipt } from '../../../core/websites/notice/consent.ts';
import type { Context } from '../../context.ts';
import { recordConsents, type Intake } from './consent-intake.ts';

/** Choices in one transaction at most, and transactions at once. */
const TOGETHER = 64;
const LANES = 2;
/** More than a database that answers ever leaves waiting. */
const MOST_WAITING = 5000;

interface Waiting {
  readonly intake: Intake;
  readonly done: (receipt: Receipt) => void;
  readonly failed: (reason: unknown) => void;
}

/**
 * Choices that arrive while others are being written wait, and are written together: each is answered once the
 * transaction that holds it is committed, and not before.
 */
export class IntakeQueue {
  #waiting: Waiting[] = [];
  #lanes = 0;

  constructor(
    readonly ctx: Context,
    readonly write: typeof recordConsents = recordConsents,
  ) {}

  /** As `recordConsent`. Throws a RefusedError (429) where too many wait. */
  async record(intake: Intake): Promise<Receipt> {
    if (this.#waiting.length >= MOST_WAITING)
      throw new RefusedError('Too many choices wait to be written. Send it again in a moment.', [], 429, {
        retryAfter: 5,
      });
    return new Promise((done, failed) => {
      this.#waiting.push({ intake, done, failed });
      this.#next();
    });
  }

  #next(): void {
    if (this.#lanes >= LANES || this.#waiting.length === 0) return;
    const taken = this.#waiting.splice(0, TOGETHER);
    this.#lanes++;
    void this.#settle(taken).finally(() => {
      this.#lanes--;
      this.#next();
    });
  }

  async #settle(taken: readonly Waiting[]): Promise<void> {
    try {
      const settled = await this.write(
        this.ctx,
        taken.map((w) => w.intake),
      );
      taken.forEach((w, i) => {
        const one = settled[i];
        if (one?.status === 'fulfilled') w.done(one.value);
        else w.failed(one?.reason);
      });
    } catch (error) {
      for (const w of taken) w.failed(error);
    }
  }
}
