import { createHash } from 'node:crypto';
import { readFile } from 'node:fs/promises';
import type { IncomingMessage, ServerResponse } from 'node:http';
import { fileURLToPath } from 'node:url';
import { ShownSent } from '../../../core/websites/notice/from-where.ts';
import { ChoiceSent } from '../../../core/websites/notice/consent.ts';
import { sharesAnswers } from '../../../core/websites/gate/gate-settings.ts';
import type { NoticeContent } from '../../../core/websites/notice/notice.ts';
import type { NoticeSettings, TrackersShown } from '../../../core/websites/notice/shown-notice.ts';
import { phrasesIn } from '../../../core/websites/notice/shipped-texts.ts';
import { asksFirst, refusedBySignal, regimeOf, startsOn } from '../../../core/websites/notice/regime.ts';
import { REGION_PATTERN } from '../../../core/websites/notice/region.ts';
import { RefusedError, type Refusal } from '../../../core/refusal.ts';
import { openContext, type Context } from '../../context.ts';
import { clientAddress } from '../../http/client-address.ts';
import { fieldErrors } from '../../http/endpoint.ts';
import { PerMinute } from '../../http/per-minute.ts';
import { parseJson, readLimited } from '../../http/read-limited.ts';
import { endOnSignal, requireMigrated, serve } from '../../processes/process.ts';
import { logFailure } from '../../processes/failure-log.ts';
import { guardedServer, surviveErrors } from '../../processes/guarded-server.ts';
import { Health } from '../../processes/health.ts';
import { inTime } from '../../processes/within.ts';
import { openConsent } from '../consents/consent-record.ts';
import { IntakeQueue } from '../consents/intake-queue.ts';
import { ShownCounts } from '../consents/shown-counts.ts';
import { readVersion, servedNotice } from '../notices/notices.ts';
import { readHolds } from '../trackers/gate-holds.ts';
import { inventoryPage, statementPage } from '../statements/statement-pages.ts';
import { isRehearsalToken } from './rehearsal-token.ts';
import { shownToken, wasShown } from './shown-token.ts';
import { narrowList } from '../../../core/websites/tcf/narrow-list.ts';
import { tcJudge, type TcJudge } from '../../../core/websites/tcf/tc-string.ts';
import { tcfApplies } from '../../../core/websites/tcf/tcf-settings.ts';
import type { VendorList } from '../../../core/websites/tcf/vendor-list.ts';
import { readVendorList } from '../notices/vendor-lists.ts';
import { siteKeys } from '../sites/sites.ts';
import { shownTrackers } from '../trackers/inventory.ts';

/** What a settings answer may lag behind the desk, and what spares the database on the hot path. */
const CACHE_MS = 2000;
/** How long a key that no site has is known as such. */
const KEYS_MS = 250;
/** What the database may take before what is in memory is served. */
const ANSWER_MS = 3000;
/** What the second layer tells of trackers. */
const SHOWN_MS = 30_000;
const MOST_KEPT = 10_000;
const MOST_BODY = 4096;
const SCRIPT = 'text/javascript; charset=utf-8';
/** Choices from one /24 or /48 in a minute; an office behind one address stays well below. */
const MOST_CHOICES = 120;
const MOST_RECEIPTS = 60;
const MOST_SHOWS = 600;
const COUNTED_MS = 5000;
const PATIENCE = { headMs: 10_000, wholeMs: 10_000 };

/** What a visitor’s browser asks for only now and then. */
type More = 'texts' | 'trackers' | 'kept' | 'vendors';

type Served = NonNullable<Awaited<ReturnType<typeof servedNotice>>>;

interface Kept {
  readonly at: number;
  readonly served: Promise<Served | undefined>;
  /** What was served before, should the database not answer. */
  readonly before: Served | undefined;
}

/** The public service: the script, its settings, the intake of choices and the visitor's receipt. */
export class VisitorService {
  readonly #kept = new Map<string, Kept>();
  readonly #receipts = new Map<string, string>();
  readonly #shown = new Map<string, { at: number; trackers: TrackersShown }>();
  readonly #choices = new PerMinute(MOST_CHOICES, 'Too many choices from one network. Wait a minute.');
  readonly #shows = new PerMinute(MOST_SHOWS, 'Too many from one network. Wait a minute.');
  readonly #asked = new PerMinute(MOST_RECEIPTS, 'Too many receipts for one network. Wait a minute.');
  readonly health: Health;
  readonly shown: ShownCounts;
  readonly intake: IntakeQueue;
  /** Tells one build of the panel from another. */
  readonly #panel: string;
  /** Tells one build of the framework’s part from another. */
  readonly #tcf: string;
  /** Of the notices in memory, each by the list that holds. */
  readonly #judges = new WeakMap<NoticeContent, { readonly list: VendorList; readonly of: TcJudge }>();
  #list: { readonly at: number; readonly list: VendorList } | undefined;
  #keys: { readonly at: number; readonly all: Promise<ReadonlySet<string>> } | undefined;

  constructor(
    readonly ctx: Context,
    readonly scripts: VisitorScripts,
  ) {
    const print = (text: string) => createHash('sha256').update(text).digest('base64url').slice(0, 12);
    this.#panel = print(scripts.panel);
    this.#tcf = print(scripts.tcf);
    this.intake = new IntakeQueue(ctx);
    this.health = new Health(ctx.store);
    this.shown = new ShownCounts(ctx.store, () => ctx.now());
  }

  async answer(request: IncomingMessage, response: ServerResponse): Promise<void> {
    response.setHeader('access-control-allow-origin', '*');
    response.setHeader('x-content-type-options', 'nosniff');
    response.setHeader('cross-origin-resource-policy', 'cross-origin');
    try {
      await this.#route(request, response);
    } catch (error) {
      if (error instanceof RefusedError) {
        const { retryAfter } = (error.detail ?? {}) as { retryAfter?: number };
        if (retryAfter !== undefined) response.setHeader('retry-after', retryAfter);
        return refuse(response, error.status, error.message, error.fields);
      }
      logFailure('visitor request failed', error);
      return refuse(response, 503, 'The service cannot answer now. Try again in a moment.');
    }
  }

  async #route(request: IncomingMessage, response: ServerResponse): Promise<void> {
    const path = (request.url ?? '').split('?')[0] ?? '';
    const method = request.method === 'HEAD' ? 'GET' : request.method;
    if (path === '/healthz') return this.health.answer(response);
    if (path === '/panel.js' || path === '/tcf.js')
      return send(response, 200, SCRIPT, path === '/tcf.js' ? this.scripts.tcf : this.scripts.panel, {
        'cache-control': 'public, max-age=31536000, immutable',
      });
    if (path === '/preview' || path === '/preview.js') return this.#previewPage(path, response);
    const [, key = '', rest = '', id = ''] =
      /^\/([0-9a-f]{20})(?:\.js|\/([a-z]+)(?:\/([0-9a-f-]{36}))?)$/.exec(path) ?? [];
    if (!key) return refuse(response, 404, 'There is nothing at this address.');
    if (method === 'OPTIONS')
      return send(response, 204, 'text/plain', '', {
        'access-control-allow-methods': 'GET, POST',
        'access-control-allow-headers': 'content-type',
      });
    if (rest === '' && method === 'GET') return this.#script(request, response, key);
    if (rest === 'shown' && method === 'POST') return this.#wasShown(request, response, key);
    if (rest === 'choices' && method === 'POST') return this.#choice(request, response, key);
    if (
      (rest === 'texts' || rest === 'trackers' || rest === 'kept' || rest === 'vendors') &&
      method === 'GET'
    )
      return this.#more(request, response, key, rest);
    if ((rest === 'statement' || rest === 'inventory') && method === 'GET')
      return this.#told(request, response, key, rest);
    if (rest === 'receipts' && id && method === 'GET') return this.#receipt(request, response, key, id);
    return refuse(response, 405, 'This address does not take that.');
  }

  async #script(request: IncomingMessage, response: ServerResponse, key: string): Promise<void> {
    const rehearsing = this.#isRehearsal(request, key);
    const served = await this.#served(key, rehearsing);
    if (!served) return refuse(response, 404, 'No site has this key.');
    const tried = rehearsing ? readHolds(String(request.headers['x-yare-holds'] ?? '')) : [];
    const { SECRET_KEY, VISITOR_ORIGIN, TRUST_PROXY, REGION_HEADER } = this.ctx.settings;
    const settings: NoticeSettings | undefined = served.notice && {
      key,
      origin: VISITOR_ORIGIN,
      version: served.notice.version,
      asksSince: served.notice.asksSince,
      ...regionSettings(served, this.#region(request, rehearsing)),
      ...contentSettings(served.notice.content),
      campaign: served.gate.settings.campaign,
      domain: served.gate.settings.domain,
      tagSystems: served.tagSystems,
      rehearsal: rehearsing,
      shown: rehearsing ? '' : shownToken(SECRET_KEY, key, served.notice.version, this.ctx.now()),
      trial: served.trial && {
        ...contentSettings(served.trial.content),
        ...{ share: served.trial.share, version: served.trial.version, texts: {} },
        shown: shownToken(SECRET_KEY, key, served.trial.version, this.ctx.now()),
      },
    };
    // `</` cannot end a script that is loaded by address, but this text may be pasted elsewhere.
    const literal = (value: unknown) =>
      JSON.stringify(value ?? null)
        .replace(/</g, '\\u003c')
        .replace(/[\u2028\u2029]/g, (c) => `\\u${c.charCodeAt(0).toString(16)}`);
    const holds = [...served.holds, ...tried];
    const parts = `${holds.length > 0 ? this.scripts.holds : 'var YARE_HELD;'}${settings?.tcf ? this.scripts.tcfStub : ''}`;
    const body = `(()=>{const YARE_SITE=${literal(key)},YARE_ORIGIN=${literal(VISITOR_ORIGIN)},YARE_SETTINGS=${literal(settings)},YARE_HOLDS=${literal(holds)},YARE_PANEL=${literal(`${VISITOR_ORIGIN}/panel.js?${this.#panel}`)},YARE_TCF=${literal(`${VISITOR_ORIGIN}/tcf.js?${this.#tcf}`)};${parts}${this.scripts.script}})();`;
    const etag = `"${createHash('sha256').update(body).digest('base64url').slice(0, 22)}"`;
    // What starts follows the law of where the visitor is: a cache before the proxy that tells it must not share this.
    const scope = TRUST_PROXY === 'yes' ? 'private' : 'public';
    const headers = {
      etag,
      'cache-control': rehearsing ? 'no-store' : `${scope}, max-age=30`,
      vary: REGION_HEADER,
    };
    if (request.headers['if-none-match'] === etag) return send(response, 304, 'text/javascript', '', headers);
    send(response, 200, SCRIPT, body, headers);
  }

  /** What a visitor's browser needs only now and then. */
  async #more(request: IncomingMessage, response: ServerResponse, key: string, what: More): Promise<void> {
    const served = await this.#served(key, this.#isRehearsal(request, key));
    const { searchParams } = new URL(request.url ?? '/', 'http://visitor.invalid');
    const language = searchParams.get('language') ?? '';
    const version = Number(searchParams.get('version'));
    const body = served && (await this.#moreOf(served, what, language, version));
    if (!body) return refuse(response, 404, 'There is nothing at this address.');
    send(response, 200, 'application/json', JSON.stringify(body), { 'cache-control': 'public, max-age=60' });
  }

  async #moreOf({ notice, trial, gate, siteId }: Served, what: More, language: string, version: number) {
    switch (what) {
      case 'texts':
        if (trial?.version === version) return shownText(trial.content, language);
        return notice && shownText(notice.content, language);
      case 'kept':
        return gate.plan.kept;
      case 'vendors':
        return notice?.content.tcf && narrowList(await this.#vendorList(), notice.content.tcf.vendors);
      case 'trackers': {
        // Only languages that it speaks, so that nobody makes up others.
        const spoken = notice?.content.languages ?? [];
        if (!spoken.includes(language)) return undefined;
        const kept = this.#shown.get(`${siteId} ${language}`);
        if (kept && Date.now() - kept.at < SHOWN_MS) return kept.trackers;
        const trackers = await inTime(ANSWER_MS, shownTrackers(this.ctx.store, siteId, language));
        remember(this.#shown, `${siteId} ${language}`, { at: Date.now(), trackers }, 2000);
        return trackers;
      }
    }
  }

  /** What a site tells of itself, as a page by itself or in a frame. */
  async #told(
    request: IncomingMessage,
    response: ServerResponse,
    key: string,
    what: 'statement' | 'inventory',
  ): Promise<void> {
    this.#asked.count(clientAddress(request, this.ctx.settings));
    const served = await this.#served(key, false);
    if (!served) return refuse(response, 404, 'No site has this key.');
    const { searchParams } = new URL(request.url ?? '/', 'http://visitor.invalid');
    const asked = searchParams.get('language') ?? '';
    const html =
      what === 'statement'
        ? await statementPage(this.ctx.store, served.siteId, asked)
        : await inventoryPage(this.ctx.store, served, asked);
    send(response, 200, 'text/html; charset=utf-8', html, {
      'cache-control': 'public, max-age=300',
      'content-security-policy': "default-src 'none'; style-src 'unsafe-inline'; frame-ancestors *",
    });
  }

  /** Counts that the notice was shown: nothing of who saw it is kept. */
  async #wasShown(request: IncomingMessage, response: ServerResponse, key: string): Promise<void> {
    this.#shows.count(clientAddress(request, this.ctx.settings));
    const { headers } = request;
    const body = await readLimited(request, headers['content-length'], 400, 'That is more than this takes.');
    const parsed = ShownSent.safeParse(parseJson(body));
    if (!parsed.success)
      return refuse(response, 400, 'This cannot be taken as it is.', fieldErrors(parsed.error));
    const served = await this.#served(key, false);
    if (!served) return refuse(response, 404, 'No site has this key.');
    const versions = [served.notice?.version, served.trial?.version];
    if (versions.includes(parsed.data.version) && !this.#isRehearsal(request, key))
      this.shown.add(served.siteId, this.#region(request), parsed.data);
    send(response, 204, 'text/plain', '');
  }

  async #choice(request: IncomingMessage, response: ServerResponse, key: string): Promise<void> {
    const address = clientAddress(request, this.ctx.settings);
    this.#choices.count(address);
    const parsed = ChoiceSent.safeParse(
      parseJson(
        await readLimited(
          request,
          request.headers['content-length'],
          MOST_BODY,
          'That is more than a choice takes.',
        ),
      ),
    );
    if (!parsed.success)
      return refuse(response, 400, 'This choice cannot be taken as it is.', fieldErrors(parsed.error));
    const sent = parsed.data;
    const rehearsing = this.#isRehearsal(request, key);
    const served = await this.#served(key, rehearsing);
    if (!served) return refuse(response, 404, 'No site has this key.');
    const { origin } = request.headers;
    const { domain } = served.gate.settings;
    const from = origin && URL.canParse(origin) ? new URL(origin).host : '';
    if (origin && !served.alsoAt.includes(from) && !sharesAnswers(served.host, domain, from))
      return refuse(response, 403, 'Choices for this site are taken from its own pages only.');
    const faults = await this.#tcFaults(served, sent);
    if (faults.length > 0)
      return refuse(
        response,
        400,
        'This choice cannot be taken as it is.',
        faults.map((message) => ({ field: 'tc', message })),
      );
    if (rehearsing)
      return send(
        response,
        200,
        'application/json',
        JSON.stringify({ receipt: { id: '' }, rehearsal: true }),
      );
    if (!wasShown(this.ctx.settings.SECRET_KEY, key, sent.version, this.ctx.now(), sent.shown))
      return refuse(response, 400, 'This version of the notice was not shown here lately.', [
        { field: 'shown', message: 'Send what the notice came with; load it anew where it is old.' },
      ]);
    const receipt = await this.intake.record({
      siteId: served.siteId,
      host: served.host,
      notice: served.notice,
      sent,
      region: this.#region(request),
      address,
    });
    send(response, 201, 'application/json', JSON.stringify({ receipt }));
  }

  /** The list that vendors are judged by, from memory while it is fresh. */
  async #vendorList(): Promise<VendorList> {
    if (!this.#list || Date.now() - this.#list.at >= SHOWN_MS)
      this.#list = { at: Date.now(), list: await inTime(ANSWER_MS, readVendorList(this.ctx.store)) };
    return this.#list.list;
  }

  /** A choice says in the framework’s terms what it says in ours, or nothing where the site takes no part in it. */
  async #tcFaults(
    { notice, trial, siteId }: Served,
    { tc, version, allowed }: ChoiceSent,
  ): Promise<readonly string[]> {
    if (tc === '') return [];
    const content =
      [notice, trial].find((n) => n?.version === version)?.content ??
      (await readVersion(this.ctx.store, siteId, version));
    if (!content.tcf) return ['This site takes no part in the framework.'];
    const list = await this.#vendorList();
    let judge = this.#judges.get(content);
    if (judge?.list !== list) {
      judge = { list, of: tcJudge({ list, settings: content.tcf, asked: content.purposes }) };
      this.#judges.set(content, judge);
    }
    return judge.of(tc, allowed);
  }

  /** What is sealed never changes, and is kept in memory. */
  async #receipt(request: IncomingMessage, response: ServerResponse, key: string, id: string): Promise<void> {
    this.#asked.count(clientAddress(request, this.ctx.settings));
    const name = `${key} ${id}`;
    const kept = this.#receipts.get(name);
    if (kept !== undefined) return send(response, 200, 'application/json', kept);
    const served = await this.#served(key, false);
    if (!served) return refuse(response, 404, 'No site has this key.');
    const { receipt, digest, proof, matches } = await openConsent(this.ctx.store, served.siteId, id);
    const body = JSON.stringify({ receipt, digest, proof: proof ?? null, matches });
    if (proof) remember(this.#receipts, name, body, 2000);
    send(response, 200, 'application/json', body);
  }

  #previewPage(path: string, response: ServerResponse): void {
    if (path === '/preview.js')
      return send(response, 200, SCRIPT, this.scripts.preview, {
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

  /** From memory while it is fresh, and for as long as the database does not answer. */
  async #served(key: string, rehearsing: boolean): Promise<Served | undefined> {
    const name = `${key} ${rehearsing}`;
    let kept = this.#kept.get(name);
    if (!kept || Date.now() - kept.at >= CACHE_MS) {
      if (!kept && !(await this.#isKey(key))) return undefined;
      const before = kept && (await kept.served.catch(() => kept?.before));
      const served = inTime(ANSWER_MS, servedNotice(this.ctx.store, key, rehearsing));
      kept = { at: Date.now(), served, before };
      remember(this.#kept, name, kept, MOST_KEPT);
    }
    try {
      return await kept.served;
    } catch (error) {
      if (kept.before === undefined) {
        this.#kept.delete(name);
        throw error;
      }
      logFailure('served from memory', error);
      return kept.before;
    }
  }

  /** Keys that no site has are known by one list, so that a flood of them asks the database nothing. */
  async #isKey(key: string): Promise<boolean> {
    if (!this.#keys || Date.now() - this.#keys.at >= KEYS_MS) {
      const all = inTime(ANSWER_MS, siteKeys(this.ctx.store));
      this.#keys = { at: Date.now(), all };
      all.catch(() => (this.#keys = undefined));
    }
    return (await this.#keys.all).has(key);
  }

  #isRehearsal(request: IncomingMessage, key: string): boolean {
    return isRehearsalToken(
      this.ctx.settings.SECRET_KEY,
      key,
      this.ctx.now(),
      String(request.headers['x-yare-rehearsal'] ?? ''),
    );
  }

  /** Only a reverse proxy of ours may say where a visitor is, and a sweep of ours where it comes from. */
  #region(request: IncomingMessage, ours = false): string {
    const { REGION_HEADER, REGION_DEFAULT, TRUST_PROXY } = this.ctx.settings;
    const given =
      TRUST_PROXY === 'yes' || ours ? String(request.headers[REGION_HEADER] ?? '').toUpperCase() : '';
    return REGION_PATTERN.test(given) ? given : REGION_DEFAULT;
  }
}

/** What the law of the place makes of a notice: what starts, what the signal refuses, who is asked, for how long. */
function regionSettings({ notice, regimes, purposes }: Served, region: string) {
  const content = notice?.content;
  const asked = purposes.filter((p) => content?.purposes.includes(p.code));
  const regime = regimeOf(region, regimes);
  const tcf = content?.tcf;
  return {
    ...(tcf ? { tcf: { ...tcf, applies: tcfApplies(region, regimes) } } : {}),
    months: regime.months ?? content?.askAgainMonths ?? 6,
    region,
    regime: regime.regime,
    starts: asked.filter((p) => startsOn(regime, p)).map((p) => p.code),
    signal: refusedBySignal(regime, asked),
    asks: asksFirst(regime, asked),
  };
}

function remember<T>(into: Map<string, T>, name: string, value: T, most: number): void {
  into.delete(name);
  if (into.size >= most) into.delete(into.keys().next().value as string);
  into.set(name, value);
}

/** What the script needs of a notice at once: the texts of its first language, the others when they are asked for. */
function contentSettings(content: NoticeContent) {
  const { purposes, languages, languageBy, policyUrl } = content;
  const { layout, colours, face, size, radius, again, css } = content;
  return {
    ...{ purposes, languages, languageBy, policyUrl, language: '' },
    looks: { layout, colours, face, size, radius, again, css },
    texts: Object.fromEntries(
      languages.slice(0, 1).flatMap((l) => {
        const text = shownText(content, l);
        return text ? [[l, text] as const] : [];
      }),
    ),
  };
}

function shownText(content: NoticeContent, language: string) {
  // What is asked for may be the name of anything.
  const text = Object.hasOwn(content.texts, language) ? content.texts[language] : undefined;
  return text && { ...text, phrases: phrasesIn(language) };
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

/** What visitors' browsers get, as it was built. */
export interface VisitorScripts {
  readonly script: string;
  /** What holds by itself, before the script where a site has something to hold. */
  readonly holds: string;
  /** The part that is loaded when it is needed, a module. */
  readonly panel: string;
  /** The part of the framework, a module, and what stands in for it until it is there. */
  readonly tcf: string;
  readonly tcfStub: string;
  readonly preview: string;
}

/** The built scripts, from beside the built process. */
export async function readVisitorScripts(folder: string): Promise<VisitorScripts> {
  const [script = '', holds = '', panel = '', preview = '', tcf = '', tcfStub = ''] = await Promise.all(
    ['notice.js', 'holds.js', 'panel.js', 'preview.js', 'tcf.js', 'tcf-stub.js'].map((f) =>
      readFile(`${folder}/${f}`, 'utf8'),
    ),
  );
  return { script, holds, panel, preview, tcf, tcfStub };
}

export async function main(): Promise<void> {
  const ctx = openContext();
  await requireMigrated(ctx);
  const scripts = await readVisitorScripts(fileURLToPath(new URL('./visitor', import.meta.url)));
  const service = new VisitorService(ctx, scripts);
  const server = guardedServer('visitor', PATIENCE, (request, response) => service.answer(request, response));
  await serve(server, ctx.settings.VISITOR_PORT, ctx.settings.HOST, 'VISITOR_PORT');
  surviveErrors('visitor');
  const counting = setInterval(() => void service.shown.flush(), COUNTED_MS);
  endOnSignal(async () => {
    clearInterval(counting);
    await service.shown.flush();
    server.close();
    server.closeIdleConnections();
    await ctx.store.close();
  });
}
