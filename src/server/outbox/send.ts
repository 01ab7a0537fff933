import type { Context } from '../context.ts';
import { putOnToday } from '../desk/today.ts';
import { logFailure } from '../processes/failure-log.ts';
import type { Carrier, Outcome } from './carrier.ts';
import { MAIL } from './mail-carrier.ts';
import {
  claimMessages,
  endMessage,
  lostMessages,
  postponeMessage,
  type Channel,
  type Claimed,
} from './outbox.ts';
import { WEBHOOK } from './webhook-carrier.ts';

export type Carriers = Readonly<Record<Channel, Carrier>>;

const CARRIERS: Carriers = { mail: MAIL, webhook: WEBHOOK };
const TOGETHER = 10;
const MOST_ATTEMPTS = 9;
const FIRST_PAUSE_MS = 30_000;
const LONGEST_PAUSE_MS = 6 * 3_600_000;

/** Sends what waits, a few at a time until none does; returns how many went out. Safe for many senders at once. */
export async function sendMessages(ctx: Context, carriers: Carriers = CARRIERS): Promise<number> {
  for (const lost of await lostMessages(ctx)) await settleLost(ctx, carriers[lost.channel], lost);
  let sent = 0;
  for (;;) {
    const messages = await claimMessages(ctx, TOGETHER);
    if (messages.length === 0) return sent;
    const outcomes = await Promise.all(messages.map((m) => sendOne(ctx, carriers[m.channel], m)));
    sent += outcomes.filter((o) => o.how === 'sent').length;
  }
}

async function sendOne(ctx: Context, carrier: Carrier, message: Claimed): Promise<Outcome> {
  const outcome = await carrier
    .send(ctx, message)
    .catch((error: Error): Outcome => ({ how: 'later', error: error.message }));
  try {
    await settle(ctx, message, outcome);
  } catch (error) {
    // Its lease runs out, and then it is settled as one that was lost.
    logFailure('what became of a message could not be written', error, { message: message.id });
  }
  return outcome;
}

/** Of a sender that went silent nobody knows how far it came. */
async function settleLost(ctx: Context, { knowsAgain }: Carrier, message: Claimed): Promise<void> {
  const error = 'Its sender stopped without a word.';
  await settle(ctx, message, { how: knowsAgain ? 'later' : 'unclear', error });
}

async function settle(ctx: Context, message: Claimed, outcome: Outcome): Promise<void> {
  await ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    if (outcome.how === 'later' && message.attempts < MOST_ATTEMPTS) {
      const pause = Math.min(LONGEST_PAUSE_MS, FIRST_PAUSE_MS * 3 ** (message.attempts - 1));
      return postponeMessage(tx, message, new Date(now.getTime() + pause), outcome.error);
    }
    if (outcome.how === 'sent') return void (await endMessage(tx, now, message, { state: 'sent' }));
    const state = outcome.how === 'unclear' ? 'unclear' : 'failed';
    if (!(await endMessage(tx, now, message, { state, error: outcome.error }))) return;
    const what = message.channel === 'mail' ? 'A mail' : 'A call of a webhook';
    await putOnToday(tx, {
      kind: 'message',
      key: message.id,
      action: 'accounts.edit',
      words:
        state === 'unclear'
          ? `${what} about a ${message.object} may not have arrived`
          : `${what} about a ${message.object} could not be sent`,
      detail: outcome.error,
      link: '/today',
      since: now,
      dismissable: true,
    });
  });
}
