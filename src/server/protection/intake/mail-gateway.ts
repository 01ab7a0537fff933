import { createTransport } from 'nodemailer';
import PostalMime from 'postal-mime';
import { SMTPServer, type SMTPServerSession } from 'smtp-server';
import { heldRules, motionOf, type ActivityEvent } from '../../../core/protection/activity/event.ts';
import { situationOf } from '../../../core/protection/devices/rule-bundle.ts';
import { keptOf } from '../../../core/protection/handling/keeping.ts';
import { decide, type Decision, type WeighedHandling } from '../../../core/protection/handling/decision.ts';
import { motionFindings } from '../../../core/protection/handling/text-decision.ts';
import type { Motion } from '../../../core/protection/handling/motion.ts';
import { mailReply, reasonIn } from '../../../core/protection/intake/mail-reply.ts';
import { DistinctPeople, peopleOf } from '../../../core/holdings/offers.ts';
import type { Context } from '../../context.ts';
import { tryDetectors } from '../../holdings/offers.ts';
import { logFailure } from '../../processes/failure-log.ts';
import { findEvent } from '../activity/event-store.ts';
import { keepHere, returned, returnsFor } from '../evidence/evidence.ts';
import { takeEvents } from '../activity/take-events.ts';
import { mailBundle } from '../devices/bundles.ts';
import { levelRanks } from '../levels/levels.ts';
import { stampInThread } from '../stamp-thread.ts';
import { eventIdOf } from './event-id.ts';

const MOST_BYTES = 25_000_000;
const MOST_RECIPIENTS = 200;
const PATIENCE_MS = 20_000;
const RETURN_EVERY_MS = 5000;

/** What becomes of a mail: passed on, or refused with what the sender reads. */
export type Judged = { readonly passes: true } | { readonly passes: false; readonly reply: string };

/**
 * Stands between those who write and the mail server: reads what goes out with the detectors in force, decides by the same
 * rules and the same core as devices do, tells what was done, and passes it on or answers why not.
 */
export class MailGateway {
  readonly #server: SMTPServer;
  #returning: NodeJS.Timeout | undefined;

  constructor(
    readonly ctx: Context,
    /** Whether mail is passed on by this server; without it nothing is. */
    readonly next: string | undefined,
  ) {
    this.#server = new SMTPServer({
      authOptional: true,
      disabledCommands: ['STARTTLS', 'AUTH'],
      size: MOST_BYTES,
      logger: false,
      onRcptTo: (_address, session, done) =>
        done(
          session.envelope.rcptTo.length >= MOST_RECIPIENTS
            ? refusal(452, '4.5.3 Too many recipients')
            : undefined,
        ),
      onData: (stream, session, done) => {
        const parts: Buffer[] = [];
        // What is too large is read to its end, and not kept.
        stream.on('data', (part: Buffer) => {
          if (stream.sizeExceeded) parts.length = 0;
          else parts.push(part);
        });
        stream.on('end', () => {
          if (stream.sizeExceeded) return done(refusal(552, '5.3.4 That is too large'));
          this.#handle(Buffer.concat(parts), session).then(
            (error) => done(error),
            (error: unknown) => {
              logFailure('a mail was not judged', error);
              // Nobody’s mail is lost or let go unseen: it is tried again.
              done(refusal(451, '4.3.0 It could not be looked at now. Try again later.'));
            },
          );
        });
      },
    });
    // A sender that breaks off is of no interest.
    this.#server.on('error', () => {});
  }

  async start(port: number, host: string): Promise<void> {
    await new Promise<void>((ready, failed) => {
      this.#server.once('error', failed);
      this.#server.listen(port, host, () => ready());
    });
    const { next } = this;
    if (next)
      this.#returning = setInterval(() => {
        passOnReturned(this.ctx, next).catch((error: unknown) =>
          logFailure('a mail that is given back was not passed on', error),
        );
      }, RETURN_EVERY_MS);
  }

  close(): Promise<void> {
    clearInterval(this.#returning);
    return new Promise((done) => this.#server.close(() => done()));
  }

  async #handle(raw: Buffer, session: SMTPServerSession): Promise<Error | undefined> {
    const { mailFrom, rcptTo } = session.envelope;
    if (!mailFrom || !mailFrom.address) return refusal(550, '5.7.1 Say who sends it');
    const to = rcptTo.map((r) => r.address);
    const judged = await judgeMail(this.ctx, mailFrom.address, to, raw);
    if (!judged.passes) return refusal(550, judged.reply);
    if (!this.next) return refusal(451, '4.3.5 No mail server is set that it could be passed to');
    try {
      await passOn(this.next, mailFrom.address, to, raw);
      return undefined;
    } catch (error) {
      logFailure('a mail was not passed on', error);
      return refusal(451, '4.4.1 The mail server does not take it now. Try again later.');
    }
  }
}

function refusal(responseCode: number, words: string): Error {
  return Object.assign(new Error(words), { responseCode });
}

async function passOn(url: string, from: string, to: readonly string[], raw: Buffer): Promise<void> {
  const transport = createTransport({
    ...{ url, connectionTimeout: PATIENCE_MS, greetingTimeout: PATIENCE_MS, socketTimeout: PATIENCE_MS },
  } as Parameters<typeof createTransport>[0]);
  try {
    await transport.sendMail({ envelope: { from, to: [...to] }, raw });
  } finally {
    transport.close();
  }
}

/** Decides about a mail, and tells what was done once. A second try of the same mail is the same act. */
export async function judgeMail(
  ctx: Context,
  from: string,
  to: readonly string[],
  raw: Buffer,
): Promise<Judged> {
  const person = from.toLowerCase();
  const mail = await PostalMime.parse(raw, { attachmentEncoding: 'arraybuffer' });
  const [{ findings }, level, bundle] = await Promise.all([
    tryDetectors(ctx, { name: 'mail.eml', bytes: raw }, undefined),
    strongestLevel(ctx, raw, mail.attachments),
    mailBundle(ctx, person),
  ]);
  const sure = findings.filter((f) => !f.rehearsed);
  const people = new DistinctPeople();
  people.addAll(peopleOf(sure));
  const motion: Motion = {
    ...{ act: 'send', channel: 'mail', person, program: 'mail gateway', network: '' },
    towards: to.map((a) => a.toLowerCase()),
    item: {
      // Not its subject, which may be personal.
      name: mail.attachments
        .flatMap((a) => a.filename ?? [])
        .join(', ')
        .slice(0, 400),
      ...{
        format: 'mail',
        size: raw.length,
        level,
        document: null,
        people: people.count().people,
        origin: '',
      },
    },
    findings: motionFindings(sure),
  };
  const now = ctx.now().toISOString();
  const { situation, rules, counted } = situationOf(bundle, now);
  const decision = decide(motion, situation, rules);
  const reason = reasonIn(mail.subject ?? '');
  const goesOn = decision.outcome === 'ask' && reason !== undefined;
  const event: ActivityEvent = {
    // Whoever sends it again with a reason does something else.
    ...{
      id: eventIdOf('mail', person, to.join(' '), mail.messageId ?? raw.toString('base64'), reason ?? ''),
    },
    ...{ at: now, kind: 'mail', ...motion, outcome: decision.outcome, rules: heldRules(decision) },
    counted: heldRules(decide(motion, situation, counted)),
    answer: decision.outcome === 'ask' ? (goesOn ? 'went on' : 'turned back') : null,
    ...{ reason: goesOn ? reason : '', change: null },
  };
  await tellOf(ctx, event);
  await keep(ctx, decision, event, rules, raw);
  if (decision.outcome === 'go' || decision.outcome === 'record' || goesOn) return { passes: true };
  const by = rules.find((r) => r.id === decision.by)?.content;
  return { passes: false, reply: mailReply(decision.outcome, by?.says['en'] ?? '', by?.name ?? 'a rule') };
}

/** A mail that a rule moves away is kept whole, and goes on once it is given back. */
async function keep(
  ctx: Context,
  decision: Decision,
  event: ActivityEvent,
  rules: readonly WeighedHandling[],
  raw: Buffer,
): Promise<void> {
  const motion = motionOf(event);
  // A mail always is one, whether anything is attached to it or not.
  const kept = motion && keptOf(decision, { ...motion, item: { ...motion.item, name: 'mail' } }, rules);
  const keeps = rules.find((r) => r.id === kept?.rule)?.content.keeps;
  if (kept && keeps) await keepHere(ctx, kept, event, keeps, raw);
}

/** Passes on mail that was kept and is given back, to whom it was for; how many. */
export async function passOnReturned(ctx: Context, next: string): Promise<number> {
  let passed = 0;
  for (const { id, at, event, base64 } of await returnsFor(ctx, { id: 0 })) {
    const kept = await findEvent(ctx.store, at, event);
    // Whom it was for is not on record any more: it stays until it is deleted.
    if (!kept) continue;
    const { person, towards } = kept.event;
    const mine = await returned(ctx, { id: 0 }, id, () =>
      passOn(next, person, towards, Buffer.from(base64, 'base64')),
    );
    if (mine) passed++;
  }
  return passed;
}

async function tellOf(ctx: Context, event: ActivityEvent): Promise<void> {
  const { refused } = await takeEvents(
    ctx,
    { kinds: ['mail'], device: 0, aheadMs: 0 },
    JSON.stringify(event),
  );
  if (refused[0]) throw new Error(`The mail gateway told what cannot be taken: ${refused[0].why}`);
}

/** The strongest level that the mail or what is attached to it says it has; `null` for none. */
async function strongestLevel(
  ctx: Context,
  raw: Buffer,
  attachments: readonly { readonly content: ArrayBuffer | Uint8Array | string }[],
): Promise<string | null> {
  const ranks = await levelRanks(ctx.store);
  const files = [
    raw,
    ...attachments.map((a) =>
      typeof a.content === 'string' ? Buffer.from(a.content) : new Uint8Array(a.content),
    ),
  ];
  const carried: string[] = [];
  for (const bytes of files) {
    const read = await stampInThread({ do: 'read', bytes });
    if ('read' in read && read.read.carried) carried.push(read.read.carried.id);
  }
  return carried.toSorted((a, b) => (ranks.get(b) ?? -1) - (ranks.get(a) ?? -1))[0] ?? null;
}
