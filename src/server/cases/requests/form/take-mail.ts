import { readFile } from 'node:fs/promises';
import PostalMime from 'postal-mime';
import { z } from 'zod';
import { guessKind } from '../../../../core/cases/requests/form/guess-kind.ts';
import { REQUEST_KINDS } from '../../../../core/cases/requests/request.ts';
import { notFound } from '../../../../core/refusal.ts';
import type { Context } from '../../../context.ts';
import { putOnToday, takeOffToday } from '../../../desk/today.ts';
import { record } from '../../../evidence/ledger.ts';
import { connectSource, findSource, ItemError, SourceError } from '../../../holdings/offers.ts';
import { logFailure } from '../../../processes/failure-log.ts';
import { Bytes, Instant, toDatetime } from '../../../store/columns.ts';
import type { Queries } from '../../../store/pool.ts';
import { readRequestPolicy } from '../request-policy.ts';
import { keyedHash, openJson, sealJson } from '../request-row.ts';

/** A letter that may ask something. */
export const IncomingMail = z.object({
  from: z.string(),
  name: z.string(),
  subject: z.string(),
  text: z.string(),
  kind: z.enum(REQUEST_KINDS).nullable(),
});
export type IncomingMail = z.infer<typeof IncomingMail>;

/** No letter is read further. */
const MOST_TEXT = 4000;
const AT_ONCE = 50;

/** Takes what came into the mailbox that people write to; each letter once. */
export async function takeMail(ctx: Context): Promise<void> {
  const policy = await readRequestPolicy(ctx.store);
  if (policy.mailbox === '') return;
  try {
    const connector = await connectSource(ctx, await findSource(ctx.store, Number(policy.mailbox)));
    try {
      const place = policy.mailboxPlace || ((await connector.list('')).places[0] ?? '');
      const { items } = await connector.list(place);
      const fresh = await unseen(
        ctx,
        items.map((name) => `${policy.mailbox} ${place} ${name}`),
      );
      for (const listed of await connector.details(
        place,
        items.filter((n) => fresh.has(`${policy.mailbox} ${place} ${n}`)).slice(0, AT_ONCE),
      )) {
        const content = await connector.read(place, listed).catch((error: unknown) => {
          if (error instanceof ItemError) return undefined;
          throw error;
        });
        const bytes =
          content &&
          ('bytes' in content ? content.bytes : await readFile(Buffer.from(content.file as Uint8Array)));
        await keepMail(
          ctx,
          `${policy.mailbox} ${place} ${listed.name}`,
          bytes,
          listed.changed ?? listed.created,
        );
      }
    } finally {
      await connector.close();
    }
  } catch (error) {
    if (!(error instanceof SourceError)) throw error;
    logFailure('the mailbox of requests could not be read', error);
  }
}

const keyOf = (ctx: Context, of: string) => keyedHash(ctx, 'request mail', of);

async function unseen(ctx: Context, names: readonly string[]): Promise<ReadonlySet<string>> {
  const fresh = new Set(names);
  for (let from = 0; from < names.length; from += 500) {
    const some = names.slice(from, from + 500);
    const byKey = new Map(some.map((n) => [keyOf(ctx, n).toString('hex'), n]));
    const rows = await ctx.store.all(
      z.object({ mail_key: Bytes }),
      'SELECT mail_key FROM request_mail WHERE mail_key IN (?)',
      [some.map((n) => keyOf(ctx, n))],
    );
    for (const r of rows) fresh.delete(byKey.get(r.mail_key.toString('hex')) ?? '');
  }
  return fresh;
}

async function keepMail(
  ctx: Context,
  key: string,
  bytes: Uint8Array | undefined,
  at: string | null,
): Promise<void> {
  const mail = bytes && (await PostalMime.parse(bytes).catch(() => undefined));
  const text = (mail?.text ?? mail?.html?.replace(/<[^>]*>/g, ' ') ?? '').slice(0, MOST_TEXT);
  const content: IncomingMail = {
    ...{ from: mail?.from?.address ?? '', name: mail?.from?.name ?? '', subject: mail?.subject ?? '', text },
    kind: guessKind(`${mail?.subject ?? ''}\n${text}`) ?? null,
  };
  const sent = mail?.date === undefined ? NaN : Date.parse(mail.date);
  const when = Number.isNaN(sent) ? new Date(at ?? ctx.now()) : new Date(Math.min(sent, ctx.now().getTime()));
  await ctx.store.transaction(async (tx) => {
    const { id, changed } = await tx.run(
      'INSERT IGNORE INTO request_mail (mail_key, at, content, state) VALUES (?)',
      [[keyOf(ctx, key), toDatetime(when), mail ? sealJson(ctx, content) : null, mail ? 'new' : 'set aside']],
    );
    if (changed > 0 && mail)
      await putOnToday(tx, {
        ...{ kind: 'request news', key: `mail ${id}`, action: 'cases.handle' },
        words: content.kind
          ? `A letter asks ${content.kind === 'no sale' ? 'not to be sold' : `for: ${content.kind}`}`
          : 'A letter came about somebody’s data',
        ...{
          detail: 'Take it in as a request, or set it aside',
          link: `/cases/requests?mail=${id}`,
          since: when,
        },
      });
  });
}

export interface WaitingMail extends IncomingMail {
  readonly id: number;
  readonly at: string;
}

/** Letters that nobody decided about, the oldest first: their time runs. */
export async function waitingMail(ctx: Context): Promise<readonly WaitingMail[]> {
  const rows = await ctx.store.all(
    z.object({ id: z.number(), at: Instant, content: z.string() }),
    "SELECT id, at, content FROM request_mail WHERE state = 'new' AND content IS NOT NULL ORDER BY at, id LIMIT 200",
  );
  return rows.map((r) => ({ ...IncomingMail.parse(openJson(ctx, r.content)), id: r.id, at: r.at }));
}

/** A letter is decided about: it became a request, or it is none. Throws a RefusedError (404). When it came. */
export async function endMail(
  tx: Queries,
  ctx: Context,
  id: number,
  by: number,
  request: number | null,
): Promise<Date> {
  const row = await tx.one(
    z.object({ at: Instant, state: z.string() }),
    'SELECT at, state FROM request_mail WHERE id = ? FOR UPDATE',
    [id],
  );
  if (!row || row.state !== 'new') throw notFound('letter');
  await tx.run('UPDATE request_mail SET state = ?, request_id = ?, content = NULL WHERE id = ?', [
    request === null ? 'set aside' : 'taken',
    request,
    id,
  ]);
  await takeOffToday(tx, 'request news', `mail ${id}`);
  if (request === null)
    await record(tx, ctx.now(), {
      actor: by,
      action: 'request-mail.set-aside',
      object: 'request',
      objectId: `mail ${id}`,
      detail: {},
    });
  return new Date(row.at);
}
