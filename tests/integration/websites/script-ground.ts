import { createServer, type IncomingMessage, type Server, type ServerResponse } from 'node:http';
import type { AddressInfo } from 'node:net';
import { build } from 'esbuild';
import { VISITOR_HELD, VISITOR_PART, VISITOR_SCRIPTS } from '../../../launcher/build.ts';
import type { KeptName } from '../../../src/core/websites/gate/gate-plan.ts';
import type { GateHold } from '../../../src/core/websites/trackers/fix.ts';
import { firstNotice } from '../../../src/core/websites/notice/notice.ts';
import { phrasesIn } from '../../../src/core/websites/notice/shipped-texts.ts';
import type { VendorList } from '../../../src/core/websites/tcf/vendor-list.ts';
import type { NoticeSettings } from '../../../src/core/websites/notice/shown-notice.ts';

export const KEY = 'a1'.repeat(10);

/** The visitor's script as it is built, on pages of the test's own, with `//T/` for another company's host. */
export class ScriptGround {
  readonly #server: Server;
  #script = '';
  #panel = '';
  #framework = '';
  #stub = '';
  #held = '';
  /** Where the site takes part in the framework. */
  vendors: VendorList | undefined;
  /** Pages by path; each gets the script's line first in its head. */
  pages: Record<string, string> = {};
  holds: readonly GateHold[] = [];
  kept: readonly KeptName[] = [];
  settings: Partial<NoticeSettings> = {};
  /** Of the response with a page, such as a content security policy; `NONCE` is put into the script's line. */
  headers: Record<string, string> = {};
  nonce = '';
  /** Requests to the other company, by path with the query. */
  readonly reached: string[] = [];
  /** Choices that were sent. */
  readonly choices: { allowed: string[]; tc?: string }[] = [];

  constructor() {
    this.#server = createServer((request, response) => this.#answer(request, response));
  }

  async start(): Promise<void> {
    const { outdir: _outdir, entryPoints, ...options } = VISITOR_SCRIPTS;
    const { outdir: _other, entryPoints: part, ...modules } = VISITOR_PART;
    const { outdir: _last, entryPoints: held, ...block } = VISITOR_HELD;
    const entry = (all: typeof entryPoints, name: string) => (all as Record<string, string>)[name] as string;
    const built = await Promise.all([
      build({ ...options, entryPoints: [entry(entryPoints, 'notice')], write: false }),
      build({ ...modules, entryPoints: [entry(part, 'panel')], write: false }),
      build({ ...modules, entryPoints: [entry(part, 'tcf')], write: false }),
      build({ ...options, entryPoints: [entry(entryPoints, 'tcf-stub')], write: false }),
      build({ ...block, entryPoints: [entry(held, 'holds')], write: false }),
    ]);
    [this.#script = '', this.#panel = '', this.#framework = '', this.#stub = '', this.#held = ''] = built.map(
      (b) => b.outputFiles?.[0]?.text ?? '',
    );
    await new Promise<void>((ready) => this.#server.listen(0, '127.0.0.1', ready));
  }

  stop(): void {
    this.#server.closeAllConnections();
    this.#server.close();
  }

  get port(): number {
    return (this.#server.address() as AddressInfo).port;
  }

  at(host: string, path = '/'): string {
    return `http://${host}.localhost:${this.port}${path}`;
  }

  /** How a notice looks that nobody has said more of. */
  get looks(): NoticeSettings['looks'] {
    const { layout, colours, face, size, radius, again, css } = firstNotice();
    return { layout, colours, face, size, radius, again, css };
  }

  #answer(request: IncomingMessage, response: ServerResponse): void {
    const url = new URL(request.url ?? '/', `http://${request.headers.host}`);
    const send = (type: string, body: string, headers: Record<string, string> = {}) =>
      response
        .writeHead(200, { 'content-type': type, 'access-control-allow-origin': '*', ...headers })
        .end(body.replaceAll('//T/', `//tally.localhost:${this.port}/`));
    if (url.hostname === 'tally.localhost') {
      this.reached.push(url.pathname + url.search);
      return void send('text/javascript', `(window.ran ??= []).push(${JSON.stringify(url.pathname)})`);
    }
    if (url.pathname === `/${KEY}.js`) return void send('text/javascript', this.#served());
    if (url.pathname === '/panel.js') return void send('text/javascript', this.#panel);
    if (url.pathname === '/tcf.js') return void send('text/javascript', this.#framework);
    if (url.pathname === `/${KEY}/vendors`)
      return void send('application/json', JSON.stringify(this.vendors ?? null));
    if (url.pathname === `/${KEY}/kept`) return void send('application/json', JSON.stringify(this.kept));
    if (url.pathname === `/${KEY}/texts`) {
      const language = url.searchParams.get('language') ?? '';
      const text = { ...firstNotice().texts['da'], title: `In ${language}`, phrases: phrasesIn(language) };
      return void send('application/json', JSON.stringify(text));
    }
    if (url.pathname === `/${KEY}/choices`) {
      let body = '';
      request.on('data', (part: Buffer) => (body += part.toString()));
      request.on('end', () => {
        this.choices.push(JSON.parse(body) as { allowed: string[]; tc?: string });
        send('application/json', '{"receipt":{"id":"r1"}}');
      });
      return;
    }
    const page = this.pages[url.pathname];
    if (page === undefined) return void send('text/javascript', '');
    const nonce = this.nonce && ` nonce="${this.nonce}"`;
    send(
      'text/html; charset=utf-8',
      `<!doctype html><html lang="en"><head><script${nonce} src="/${KEY}.js"></script></head><body>${page}</body></html>`,
      this.headers,
    );
  }

  #served(): string {
    const { texts, purposes, languages, languageBy, policyUrl } = firstNotice();
    const settings: NoticeSettings = {
      ...{ key: KEY, origin: '', version: 1, asksSince: 1, months: 6, region: 'DK', regime: 'ask first' },
      ...{
        starts: [],
        signal: [],
        asks: true,
        purposes,
        languages,
        languageBy,
        policyUrl,
        looks: this.looks,
      },
      texts: { en: { ...texts['en']!, phrases: phrasesIn('en') } },
      ...{ campaign: [], tagSystems: [], domain: '', rehearsal: false, shown: '', language: '' },
      ...this.settings,
    };
    const consts = {
      SITE: KEY,
      ORIGIN: '',
      SETTINGS: settings,
      HOLDS: this.holds,
      PANEL: '/panel.js?1',
      TCF: '/tcf.js?1',
    };
    const said = Object.entries(consts).map(([name, value]) => `YARE_${name}=${JSON.stringify(value)}`);
    const held = this.holds.length > 0 ? this.#held : 'var YARE_HELD;';
    return `(()=>{const ${said.join()};${held}${settings.tcf ? this.#stub : ''}${this.#script}})();`;
  }
}
