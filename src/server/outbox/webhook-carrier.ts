import { createHash, createHmac } from 'node:crypto';
import { request as httpRequest } from 'node:http';
import { request as httpsRequest } from 'node:https';
import { z } from 'zod';
import { signatureBase, signatureParams, type SignedParts } from '../../core/outbox/message-signature.ts';
import type { Context } from '../context.ts';
import { destination, destinationRules } from '../http/allowed-destination.ts';
import { openText } from '../secret.ts';
import { Instant } from '../store/columns.ts';
import type { Carrier, Outcome } from './carrier.ts';
import { CallContent, type Claimed } from './outbox.ts';

const PATIENCE_MS = 10_000;

/** By a signed POST; the receiver knows a message that comes again by its key. */
export const WEBHOOK: Carrier = { send, knowsAgain: true };

async function send(ctx: Context, message: Claimed): Promise<Outcome> {
  const { hook, body, type } = CallContent.parse(message.content);
  const found = await ctx.store.one(
    z.object({ url: z.string(), secret: z.string(), stopped_at: Instant.nullable() }),
    'SELECT url, secret, stopped_at FROM webhook WHERE id = ?',
    [hook],
  );
  if (!found || found.stopped_at !== null) return { how: 'refused', error: 'This webhook is stopped.' };
  const url = new URL(found.url);
  const port = Number(url.port) || (url.protocol === 'https:' ? 443 : 80);
  const to = await destination(url.hostname, port, destinationRules(ctx.settings));
  if ('refused' in to) return { how: 'later', error: to.refused };
  const secret = openText(ctx.settings.SECRET_KEY, found.secret);
  const headers = signedHeaders(url.href, body, message.key, secret, `hook-${hook}`, ctx.now());
  return post(url, to.address, { ...headers, 'content-type': type }, body);
}

/** RFC 9530 digest, a key to know the message by, and an RFC 9421 signature over both, the method and the target. */
export function signedHeaders(
  target: string,
  body: string,
  key: string,
  secret: string,
  keyId: string,
  now: Date,
): Record<string, string> {
  const parts: SignedParts = {
    method: 'POST',
    target,
    digest: `sha-256=:${createHash('sha256').update(body).digest('base64')}:`,
    // A string of RFC 9651.
    id: `"${createHash('sha256').update(key).digest('hex').slice(0, 32)}"`,
    created: Math.floor(now.getTime() / 1000),
    keyId,
  };
  const signature = createHmac('sha256', secret).update(signatureBase(parts)).digest('base64');
  return {
    'content-digest': parts.digest,
    'idempotency-key': parts.id,
    'signature-input': `yare=${signatureParams(parts)}`,
    signature: `yare=:${signature}:`,
  };
}

/** Connects to the address that was looked at, whatever the name says a moment later; follows nowhere. */
function post(
  url: URL,
  address: string,
  headers: Readonly<Record<string, string>>,
  body: string,
): Promise<Outcome> {
  const ask = url.protocol === 'https:' ? httpsRequest : httpRequest;
  return new Promise((done) => {
    const later = (error: string) => done({ how: 'later', error });
    const request = ask(
      {
        host: address,
        port: url.port || undefined,
        path: `${url.pathname}${url.search}`,
        servername: url.hostname,
        method: 'POST',
        headers: { ...headers, host: url.host, 'content-length': Buffer.byteLength(body) },
        agent: false,
        timeout: PATIENCE_MS,
      },
      (response) => {
        // What it says is of no interest.
        response.on('error', () => {});
        response.destroy();
        done(outcomeOf(response.statusCode ?? 0));
      },
    );
    const limit = setTimeout(() => request.destroy(new Error('It did not answer in time.')), PATIENCE_MS);
    request.on('timeout', () => request.destroy(new Error('It did not answer in time.')));
    request.on('error', (error) => later(error.message));
    request.on('close', () => clearTimeout(limit));
    request.end(body);
  });
}

/** 408, 425 and 429 ask to come again; other 4xx will say the same next time. */
export function outcomeOf(status: number): Outcome {
  if (status >= 200 && status < 300) return { how: 'sent' };
  const error = `It answered ${status}.`;
  const isFinal = status >= 300 && status < 500 && ![408, 425, 429].includes(status);
  return { how: isFinal ? 'refused' : 'later', error };
}
