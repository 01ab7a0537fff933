import { createHash, createHmac, timingSafeEqual } from 'node:crypto';
import { existsSync, readFileSync, writeFileSync } from 'node:fs';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { join } from 'node:path';
import { parse } from 'csv-parse/sync';
import { signatureBase } from '../src/core/outbox/message-signature.ts';
import { readBody, send } from './answer.ts';
import { escape } from './page.ts';

/** Where it is looked into. */
export const MAILING_HOST = 'mailing.localhost';
const MOST_BYTES = 5_000_000;
const KEPT_KEYS = 5000;

/** Somebody as it has them: the ways and topics that are open. */
interface Contact {
  readonly address: string;
  readonly name: string;
  readonly open: readonly string[];
  /** ISO 8601 of the choice it knows; what is older is no news. */
  readonly at: string;
}

interface Book {
  contacts: Record<string, Contact>;
  /** Keys of messages that it took, so that one that comes twice counts once. */
  taken: string[];
  refused: number;
  down: boolean;
}

/** A simulated mailing tool: takes signed messages of how people stand, checks them, and shows what it has. */
export class Mailing {
  readonly #file: string;
  readonly #book: Book;

  /** The secret of a key, as the desk gave it out; asked for at each message, since it may be connected later. */
  constructor(
    dataDir: string,
    readonly secret: (keyId: string) => string | undefined,
  ) {
    this.#file = join(dataDir, 'mailing.json');
    this.#book = existsSync(this.#file)
      ? (JSON.parse(readFileSync(this.#file, 'utf8')) as Book)
      : { contacts: {}, taken: [], refused: 0, down: false };
  }

  async answer(request: IncomingMessage, response: ServerResponse, url: URL): Promise<void> {
    if (request.method === 'POST' && url.pathname === '/changes') return this.#take(request, response, url);
    if (request.method === 'POST' && url.pathname === '/down') {
      this.#book.down = !this.#book.down;
      this.#save();
      response.writeHead(303, { location: '/' });
      response.end();
      return;
    }
    if (url.pathname !== '/') return send(response, 'text/plain', 'There is nothing here.', 404);
    send(response, 'text/html; charset=utf-8', this.#page());
  }

  async #take(request: IncomingMessage, response: ServerResponse, url: URL): Promise<void> {
    const body = await readBody(request, MOST_BYTES);
    if (this.#book.down) return send(response, 'text/plain', 'Down for now.', 503);
    const key = String(request.headers['idempotency-key'] ?? '');
    if (!this.#isSigned(request, body, url)) {
      this.#book.refused++;
      this.#save();
      return send(response, 'text/plain', 'This is not signed as it should be.', 401);
    }
    if (!this.#book.taken.includes(key)) {
      const isTable = String(request.headers['content-type'] ?? '').startsWith('text/csv');
      for (const contact of isTable ? readTable(body) : readJson(body)) this.#know(contact);
      this.#book.taken = [...this.#book.taken, key].slice(-KEPT_KEYS);
      this.#save();
    }
    send(response, 'text/plain', 'Taken.', 200);
  }

  #know(contact: Contact): void {
    const before = this.#book.contacts[contact.address];
    if (before === undefined || before.at <= contact.at) this.#book.contacts[contact.address] = contact;
  }

  /** RFC 9421, over the method, the target, the RFC 9530 digest of the body and the key of the message. */
  #isSigned({ headers, method = '' }: IncomingMessage, body: Buffer, url: URL): boolean {
    const params = /^yare=.*;created=(\d+);keyid="([^"]*)";/.exec(String(headers['signature-input'] ?? ''));
    const sent = /^yare=:([A-Za-z0-9+/=]+):$/.exec(String(headers['signature'] ?? ''))?.[1];
    const secret = this.secret(params?.[2] ?? '');
    const digest = `sha-256=:${createHash('sha256').update(body).digest('base64')}:`;
    if (!secret || !params || !sent || headers['content-digest'] !== digest) return false;
    const base = signatureBase({
      method,
      target: url.href,
      digest,
      id: String(headers['idempotency-key'] ?? ''),
      created: Number(params[1]),
      keyId: params[2] ?? '',
    });
    const wanted = createHmac('sha256', secret).update(base).digest();
    const given = Buffer.from(sent, 'base64');
    return given.length === wanted.length && timingSafeEqual(given, wanted);
  }

  #save(): void {
    writeFileSync(this.#file, JSON.stringify(this.#book));
  }

  #page(): string {
    const { contacts, taken, refused, down } = this.#book;
    const rows = Object.values(contacts)
      .toSorted((a, b) => (a.at < b.at ? 1 : -1))
      .slice(0, 200)
      .map(
        (c) =>
          `<tr><td>${escape(c.address)}</td><td>${escape(c.name)}</td><td>${escape(c.open.join(', ') || 'nothing')}</td><td>${escape(c.at || 'never asked')}</td></tr>`,
      );
    return `<!doctype html><html lang="en"><meta charset="utf-8"><title>Mailing tool</title><style>body{font:16px/1.5 sans-serif;max-width:60rem;margin:2rem auto;padding:0 1rem}table{border-collapse:collapse}td,th{padding:.3rem .8rem .3rem 0;text-align:left;border-bottom:1px solid #ccc}</style><h1>Mailing tool</h1><p>${taken.length} messages taken, ${refused} refused, ${Object.keys(contacts).length} people known.</p><form method="post" action="/down"><button>${down ? 'Be up again' : 'Be down'}</button></form><table><tr><th>Address</th><th>Name</th><th>Open</th><th>As of</th></tr>${rows.join('')}</table>`;
  }
}

interface SentPerson {
  readonly address: string;
  readonly name: string;
  readonly channels: readonly string[];
  readonly topics: readonly string[];
  readonly at: string;
}

function readJson(body: Buffer): readonly Contact[] {
  const { data } = JSON.parse(body.toString()) as { data: { people: readonly SentPerson[] } };
  return data.people.map(({ address, name, channels, topics, at }) => ({
    ...{ address, name, at },
    open: [...channels, ...topics],
  }));
}

function readTable(body: Buffer): readonly Contact[] {
  const rows = parse(body, { columns: true }) as Record<string, string>[];
  return rows.map((row) => ({
    address: row['address'] ?? '',
    name: row['name'] ?? '',
    at: row['at'] ?? '',
    open: Object.entries(row).flatMap(([column, cell]) =>
      cell === 'yes' && /^(by|about) /.test(column) ? [column.replace(/^(by|about) /, '')] : [],
    ),
  }));
}
