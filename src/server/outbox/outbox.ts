import { z } from 'zod';
import { writeLetter, type Letter, type LetterTemplate } from '../../core/outbox/letter.ts';
import type { Context } from '../context.ts';
import { openText, sealText } from '../secret.ts';
import { BigId, Count, toDatetime } from '../store/columns.ts';
import type { Queries } from '../store/pool.ts';

export const CHANNELS = ['mail', 'webhook'] as const;
export type Channel = (typeof CHANNELS)[number];

/** What it is about, by the words of the ledger, and what makes it one of its kind. */
interface Queued {
  /** A second message of the same key is not written. */
  readonly key: string;
  readonly about: { readonly object: string; readonly id: string | number };
}

export interface NewMail extends Queued {
  readonly to: string;
  readonly template: LetterTemplate;
  /** For somebody without an account; whoever has one gets it in the language they chose. */
  readonly language?: string;
  readonly values: Readonly<Record<string, string | number>>;
}

export interface NewCall extends Queued {
  /** The number of the webhook. */
  readonly hook: number;
  readonly event: string;
  readonly data: z.core.util.JSONType;
}

export const MailContent = z.object({
  to: z.string(),
  subject: z.string(),
  text: z.string(),
  html: z.string(),
});
export type MailContent = z.infer<typeof MailContent>;

/** `type` is the media type of the body. */
export const CallContent = z.object({
  hook: z.number(),
  body: z.string(),
  type: z.string().default('application/json'),
});
export type CallContent = z.infer<typeof CallContent>;

/** Puts a mail into the outbox, in the transaction of the change that causes it. Nothing where no mail server is set. */
export async function queueMail(tx: Queries, ctx: Context, mail: NewMail): Promise<void> {
  if (!ctx.settings.SMTP_URL) return;
  const chosen = await tx.one(
    z.object({ language: z.string() }),
    'SELECT language FROM account WHERE email = ?',
    [mail.to],
  );
  const letter: Letter = writeLetter(mail.template, chosen?.language ?? mail.language ?? 'en', mail.values);
  await queue(tx, ctx, 'mail', mail, {
    to: mail.to,
    subject: letter.subject,
    text: letter.text,
    html: letter.html,
  } satisfies MailContent);
}

/** Puts a call of a webhook into the outbox, in the transaction of the change that causes it. */
export async function queueCall(tx: Queries, ctx: Context, call: NewCall): Promise<void> {
  const body = JSON.stringify({ event: call.event, at: ctx.now().toISOString(), data: call.data });
  await queueBody(tx, ctx, call, 'application/json', body);
}

/** The same for a body that is written already, of this media type. */
export async function queueBody(
  tx: Queries,
  ctx: Context,
  call: Pick<NewCall, 'key' | 'about' | 'hook'>,
  type: string,
  body: string,
): Promise<void> {
  await queue(tx, ctx, 'webhook', call, { hook: call.hook, body, type } satisfies CallContent);
}

async function queue(
  tx: Queries,
  { settings, now }: Context,
  channel: Channel,
  { key, about }: Queued,
  content: MailContent | CallContent,
): Promise<void> {
  const at = toDatetime(now());
  await tx.run(
    'INSERT IGNORE INTO outgoing_message (channel, message_key, content, object, object_id, run_at, created_at) VALUES (?, ?, ?, ?, ?, ?, ?)',
    [
      channel,
      key,
      sealText(settings.SECRET_KEY, JSON.stringify(content)),
      about.object,
      String(about.id),
      at,
      at,
    ],
  );
}

const COLUMNS = 'id, channel, message_key, content, object, attempts';
const Row = z.object({
  id: BigId,
  channel: z.enum(CHANNELS),
  message_key: z.string(),
  content: z.string(),
  object: z.string(),
  attempts: z.number(),
});

/** A message that is to be sent now, by whoever claimed it. */
export interface Claimed {
  readonly id: string;
  readonly channel: Channel;
  readonly key: string;
  readonly object: string;
  /** With this one. */
  readonly attempts: number;
  readonly content: unknown;
}

/** Longer than any carrier takes. */
const LEASE_MS = 120_000;

/** Takes the messages whose time has come, a few; nobody else gets them. */
export async function claimMessages(ctx: Context, most: number): Promise<readonly Claimed[]> {
  return ctx.store.transaction(async (tx) => {
    const now = ctx.now();
    const rows = await tx.all(
      Row,
      `SELECT ${COLUMNS} FROM outgoing_message WHERE state = 'waiting' AND run_at <= ? ORDER BY run_at, id LIMIT ? FOR UPDATE SKIP LOCKED`,
      [toDatetime(now), most],
    );
    if (rows.length > 0)
      await tx.run(
        "UPDATE outgoing_message SET state = 'sending', attempts = attempts + 1, lease_until = ? WHERE id IN (?)",
        [toDatetime(new Date(now.getTime() + LEASE_MS)), rows.map((r) => r.id)],
      );
    return rows.map((r) => claimed(ctx, { ...r, attempts: r.attempts + 1 }));
  });
}

function claimed(ctx: Context, { message_key, content, ...row }: z.infer<typeof Row>): Claimed {
  return { ...row, key: message_key, content: opened(ctx, content) };
}

/** `undefined` where it was sealed with another key: such a message holds up no others. */
function opened({ settings }: Context, content: string): unknown {
  try {
    return JSON.parse(openText(settings.SECRET_KEY, content));
  } catch {
    return undefined;
  }
}

/** Messages that were being sent when their sender went silent. */
export async function lostMessages(ctx: Context): Promise<readonly Claimed[]> {
  const rows = await ctx.store.all(
    Row,
    `SELECT ${COLUMNS} FROM outgoing_message WHERE state = 'sending' AND lease_until < ? LIMIT 50`,
    [toDatetime(ctx.now())],
  );
  return rows.map((r) => claimed(ctx, r));
}

/** Ends a message. `false` where it was ended, or taken up again, meanwhile. */
export async function endMessage(
  tx: Queries,
  now: Date,
  { id, attempts }: Pick<Claimed, 'id' | 'attempts'>,
  end: { readonly state: 'sent' | 'failed' | 'unclear'; readonly error?: string },
): Promise<boolean> {
  const { changed } = await tx.run(
    "UPDATE outgoing_message SET state = ?, error = ?, ended_at = ?, lease_until = NULL WHERE id = ? AND state = 'sending' AND attempts = ?",
    [end.state, end.error?.slice(0, 500) ?? null, toDatetime(now), id, attempts],
  );
  return changed > 0;
}

/** Puts a message that did not go out back, to be tried at `at`. */
export async function postponeMessage(
  tx: Queries,
  { id, attempts }: Pick<Claimed, 'id' | 'attempts'>,
  at: Date,
  error: string,
): Promise<void> {
  await tx.run(
    "UPDATE outgoing_message SET state = 'waiting', run_at = ?, error = ?, lease_until = NULL WHERE id = ? AND state = 'sending' AND attempts = ?",
    [toDatetime(at), error.slice(0, 500), id, attempts],
  );
}

/** Removes messages that ended before `until`. */
export async function forgetOldMessages(store: Queries, until: Date): Promise<void> {
  await store.run('DELETE FROM outgoing_message WHERE ended_at < ? LIMIT 5000', [toDatetime(until)]);
}

/** What became of the messages whose keys begin so; ended ones are forgotten after a while. */
export async function messageCounts(
  store: Queries,
  channel: Channel,
  keysBegin: string,
): Promise<{
  readonly waiting: number;
  readonly sent: number;
  readonly failed: number;
  /** Of the newest that did not go out. */
  readonly error: string | null;
}> {
  const like = `${keysBegin.replace(/[\\%_]/g, '\\$&')}%`;
  const rows = await store.all(
    z.object({ state: z.string(), n: Count }),
    'SELECT state, COUNT(*) AS n FROM outgoing_message WHERE channel = ? AND message_key LIKE ? GROUP BY state',
    [channel, like],
  );
  const wrong = await store.one(
    z.object({ error: z.string() }),
    "SELECT error FROM outgoing_message WHERE channel = ? AND message_key LIKE ? AND state <> 'sent' AND error IS NOT NULL ORDER BY id DESC LIMIT 1",
    [channel, like],
  );
  const count = (...states: readonly string[]) =>
    rows.filter((r) => states.includes(r.state)).reduce((n, r) => n + r.n, 0);
  return {
    waiting: count('waiting', 'sending'),
    sent: count('sent'),
    failed: count('failed', 'unclear'),
    error: wrong?.error ?? null,
  };
}
