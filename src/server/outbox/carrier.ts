import type { Context } from '../context.ts';
import type { Claimed } from './outbox.ts';

/**
 * What came of sending. `later`: it surely did not arrive, and may when tried again. `refused`: nor will it then.
 * `unclear`: it may have arrived.
 */
export type Outcome =
  { readonly how: 'sent' } | { readonly how: 'later' | 'refused' | 'unclear'; readonly error: string };

/** One way out. */
export interface Carrier {
  send(ctx: Context, message: Claimed): Promise<Outcome>;
  /** Whether the receiver knows a message again that comes twice, so that it may be sent again when in doubt. */
  readonly knowsAgain: boolean;
}
