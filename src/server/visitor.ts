import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import { createServer, type IncomingMessage, type ServerResponse } from 'node:http';
import { fileURLToPath } from 'node:url';
import { ChoiceSent } from '../core/websites/consent.ts';
import { REGION_PATTERN } from '../core/websites/region.ts';
import { RefusedError, type Refusal } from '../core/refusal.ts';
import { openContext, type Context } from './context.ts';
import { clientAddress } from './http/client-address.ts';
import { fieldErrors } from './http/endpoint.ts';
import { log } from './log.ts';
import { endOnSignal, requireMigrated, serve } from './process.ts';
import { openConsent, recordConsent } from './websites/consents.ts';
import { servedNotice } from './websites/notices.ts';
import { readHolds } from './websites/gate-holds.ts';
import { isRehearsalToken } from './websites/rehearsal-token.ts';

/** What a settings answer may lag behind the desk, and what spares the database on the hot path. */
const CACHE_MS = 2000;
const MOST_BODY = 4096;
/** Choices from one /24 or /48 in a minute; an office behind one address stays well below. */
const MOST_A_MINUTE = 120;

type Served = Awaited<ReturnType<typeof servedNotice>>;

/** The public service: the script, its settings, the intake of choices and the visitor's receipt. */
export class VisitorService {
  readonly #cache = new Map<string, { at: number; served: Promise<Served> }>();
  readonly #counts = new Map<string, number>();
  #minute = 0;

  constructor(
    readonly ctx: Context,
    readonly script: string,
    readonly preview: string,
  ) {}

  async answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    response.setHeader('access-control-allow-origin', '*');
    response.setHeader('x-content-type-options', 'nosniff');
    response.setHeader('cross-origin-resource-policy', 'cross-origin');
    const url = new URL(request.url ?? '/', 'http://visitor');
    try {
      if (url.pathname === '/healthz') return send(response, 200, 'text/plain', 'ok');
      if (url.pathname === '/preview' || url.pathname === '/preview.js')
        return this.#previewPage(url, response);
      const [, key = '', rest = '', id = ''] =
        /^\/([0-9a-f]{20})(?:\.js|\/([a-z]+)(?:\/([0-9a-f-]{36}))?)$/.exec(url.pathname) ?? [];
      if (!key) return refuse(response, 404, 'There is nothing at this address.');
      if (request.method === 'OPTIONS')
        return send(response, 204, 'text/plain', '', {
          'access-control-allow-methods': 'GET, POST',
          'access-control-allow-headers': 'content-type',
        });
      if (rest === '' && request.method === 'GET') return await this.#script(request, response, key);
      if (rest === 'choices' && request.method === 'POST') return await this.#choice(request, response, key);
      if (rest === 'receipts' && id && request.method === 'GET') {
        const { receipt, digest, proof, matches } = await openConsent(this.ctx.store, id);
        return send(
          response,
          200,
          'application/json',
          JSON.stringify({ receipt, digest, proof: proof ?? null, matches }),
        );
      }
      return refuse(response, 405, 'This address does not take that.');
    } catch (error) {
      if (error instanceof RefusedError) return refuse(response, error.status, error.message, error.fields);
      log.error({ err: (error as Error).message, path: url.pathname }, 'visitor request failed');
      return refuse(response, 503, 'The service cannot answer now. Try again in a moment.');
    }
  }

  async #script(request: IncomingMessage, response: ServerResponse, key: string): Promise<void> {
    const rehearsing = this.#isRehearsal(request, key);
    const served = await this.#served(key, rehearsing);
    if (!served) return refuse(response, 404, 'No site has this key.');
    const tried = rehearsing ? readHolds(String(request.headers['x-yare-holds'] ?? '')) : [];
    const settings = served.notice && {
      key,
      origin: this.ctx.settings.VISITOR_ORIGIN,
      version: served.notice.version,
      asksSince: served.notice.asksSince,
      months: served.notice.content.askAgainMonths,
      purposes: served.notice.content.purposes,
      texts: pick(served.notice.content.texts, served.notice.content.languages),
      colours: served.notice.content.colours,
      policyUrl: served.notice.content.policyUrl,
      rehearsal: rehearsing,
      language: '',
    };
    // `</` cannot end a script that is loaded by address, but this text may be pasted elsewhere.
    const literal = (value: unknown) =>
      JSON.stringify(value ?? null)
        .replace(/</g, '\\u003c')
        .replace(/[\u2028\u2029]/g, (c) => `\\u${c.charCodeAt(0).toString(16)}`);
    const body = `(()=>{const YARE_SITE=${literal(key)},YARE_SETTINGS=${literal(settings)},YARE_HOLDS=${literal([...served.holds, ...tried])};${this.script}})();`;
    const etag = `"${createHash('sha256').update(body).digest('base64url').slice(0, 22)}"`;
    const headers = { etag, 'cache-control': rehearsing ? 'no-store' : 'public, max-age=30' };
    if (request.headers['if-none-match'] === etag) return send(response, 304, 'text/javascript', '', headers);
    send(response, 200, 'text/javascript; charset=utf-8', body, headers);
  }

  async #choice(request: IncomingMessage, response: ServerResponse, key: string): Promise<void> {
    const address = clientAddress(request, this.ctx.settings);
    this.#throttle(address);
    const rehearsing = this.#isRehearsal(request, key);
    const served = await this.#served(key, rehearsing);
    if (!served?.notice) return refuse(response, 404, 'No notice is in force on this site.');
    const { origin } = request.headers;
    if (origin && (!URL.canParse(origin) || new URL(origin).host !== served.host))
      return refuse(response, 403, 'Choices for this site are taken from its own pages only.');
    const parsed = ChoiceSent.safeParse(await readJson(request));
    if (!parsed.success)
      return refuse(response, 400, 'This choice cannot be taken as it is.', fieldErrors(parsed.error));
    if (rehearsing)
      return send(
        response,
        200,
        'application/json',
        JSON.stringify({ receipt: { id: '' }, rehearsal: true }),
      );
    const receipt = await recordConsent(this.ctx, {
      notice: served.notice,
      sent: parsed.data,
      region: this.#region(request),
      address,
    });
    send(response, 201, 'application/json', JSON.stringify({ receipt }));
  }

  #previewPage(url: URL, response: ServerResponse): void {
    if (url.pathname === '/preview.js')
      return send(response, 200, 'text/javascript; charset=utf-8', this.preview, {
        'cache-control': 'no-cache',
      });
    const desk = this.ctx.settings.WEB_ORIGIN.replace(/[&<>"]/g, (c) => `&#${c.charCodeAt(0)};`);
    send(
      response,
      200,
      'text/html; charset=utf-8',
      `<!doctype html><html lang="en" data-desk="${desk}"><head><title>Preview of the notice</title></head><body><script src="/preview.js"></script></body></html>`,
      {
        'content-security-policy': `default-src 'none'; script-src 'self'; style-src 'unsafe-inline'; frame-ancestors ${this.ctx.settings.WEB_ORIGIN}`,
      },
    );
  }

  #served(key: string, rehearsing: boolean): Promise<Served> {
    const id = `${key} ${rehearsing}`;
    const cached = this.#cache.get(id);
    if (cached && Date.now() - cached.at < CACHE_MS) return cached.served;
    const served = servedNotice(this.ctx.store, key, rehearsing);
    if (this.#cache.size > 10_000) this.#cache.clear();
    this.#cache.set(id, { at: Date.now(), served });
    served.catch(() => this.#cache.delete(id));
    return served;
  }

  #isRehearsal(request: IncomingMessage, key: string): boolean {
    return isRehearsalToken(
      this.ctx.settings.SECRET_KEY,
      key,
      this.ctx.now(),
      String(request.headers['x-yare-rehearsal'] ?? ''),
    );
  }

  #region(request: IncomingMessage): string {
    const given = String(request.headers[this.ctx.settings.REGION_HEADER] ?? '').toUpperCase();
    return REGION_PATTERN.test(given) ? given : this.ctx.settings.REGION_DEFAULT;
  }

  #throttle(address: string): void {
    const minute = Math.floor(Date.now() / 60_000);
    if (minute !== this.#minute) {
      this.#minute = minute;
      this.#counts.clear();
    }
    const n = (this.#counts.get(address) ?? 0) + 1;
    this.#counts.set(address, n);
    if (n > MOST_A_MINUTE)
      throw new RefusedError('Too many choices from one address. Wait a minute.', [], 429);
  }
}

function pick<T>(
  texts: Readonly<Partial<Record<string, T>>>,
  languages: readonly string[],
): Record<string, T> {
  return Object.fromEntries(languages.flatMap((l) => (texts[l] === undefined ? [] : [[l, texts[l]]])));
}

async function readJson(request: IncomingMessage): Promise<unknown> {
  const parts: Buffer[] = [];
  let size = 0;
  for await (const part of request) {
    size += (part as Buffer).length;
    if (size > MOST_BODY) throw new RefusedError('That is more than a choice takes.', [], 413);
    parts.push(part as Buffer);
  }
  try {
    return JSON.parse(Buffer.concat(parts).toString('utf8'));
  } catch {
    throw new RefusedError('Send a JSON object.', [{ field: '', message: 'The body is not JSON.' }]);
  }
}

function send(
  response: ServerResponse,
  status: number,
  type: string,
  body: string,
  headers: Record<string, string> = {},
): void {
  response.writeHead(status, { 'content-type': type, 'cache-control': 'no-store', ...headers });
  response.end(body);
}

function refuse(
  response: ServerResponse,
  status: number,
  error: string,
  fields: Refusal['fields'] = [],
): void {
  send(response, status, 'application/json', JSON.stringify({ error, fields } satisfies Refusal));
}

/** The built script and preview, from beside the built process. */
export async function readVisitorScripts(folder: string): Promise<{ script: string; preview: string }> {
  const [script, preview] = await Promise.all(
    ['notice.js', 'preview.js'].map((f) => readFile(`${folder}/${f}`, 'utf8')),
  );
  return { script: script ?? '', preview: preview ?? '' };
}

export async function main(): Promise<void> {
  const ctx = openContext();
  await requireMigrated(ctx);
  const { script, preview } = await readVisitorScripts(fileURLToPath(new URL('./visitor', import.meta.url)));
  const service = new VisitorService(ctx, script, preview);
  const server = createServer((request, response) => void service.answer(request, response));
  server.requestTimeout = 15_000;
  await serve(server, ctx.settings.VISITOR_PORT, ctx.settings.HOST, 'VISITOR_PORT');
  endOnSignal(async () => {
    server.close();
    server.closeIdleConnections();
    await ctx.store.close();
  });
}
