import { Agent as HttpAgent, request as httpRequest } from 'node:http';
import { Agent as HttpsAgent, request as httpsRequest } from 'node:https';
import { isIP, type LookupFunction } from 'node:net';
import { destination, type DestinationRules } from '../../http/allowed-destination.ts';

/** What an address typed by a person turned out to be. */
export type SiteCheck =
  | {
      readonly ok: true;
      readonly url: string;
      readonly host: string;
      readonly redirects: readonly string[];
      readonly status: number;
      readonly title: string;
    }
  | { readonly ok: false; readonly why: string; readonly fix: string };

const MOST_REDIRECTS = 10;
const ANSWER_MS = 10_000;
const MOST_HTML = 256 * 1024;
/** As long as an address may be that is stored. */
const LONGEST_ADDRESS = 2000;

/** Whole web address from what a person types; `undefined` when no site could be meant. */
export function readAddress(typed: string): URL | undefined {
  const text = typed.trim();
  if (text === '' || /\s/.test(text) || text.length > 2000) return undefined;
  const scheme = /^[a-z][a-z0-9+.-]*:\/\//i.exec(text)?.[0].toLowerCase();
  if (scheme && scheme !== 'http://' && scheme !== 'https://') return undefined;
  const local = /^(?:[^/]*\.)?localhost(?::\d+)?(?:\/|$)/i.test(text);
  const address = scheme ? text : `${local ? 'http' : 'https'}://${text}`;
  if (!URL.canParse(address)) return undefined;
  const url = new URL(address);
  const named =
    url.hostname.includes('.') ||
    url.hostname === 'localhost' ||
    isIP(url.hostname.replace(/^\[|\]$/g, '')) > 0;
  if (!named || url.username || url.password) return undefined;
  url.hash = '';
  return url;
}

/** Asks the address as a browser would, following redirects; every hop is checked before it is asked. */
export async function checkSite(typed: string, rules: DestinationRules): Promise<SiteCheck> {
  const first = readAddress(typed);
  if (!first)
    return {
      ok: false,
      why: 'This is not the address of a website.',
      fix: 'Type something like www.company.example or https://www.company.example/en.',
    };
  const redirects: string[] = [];
  const been = new Set<string>();
  for (let url = first; ;) {
    if (been.has(url.href))
      return {
        ok: false,
        why: `It redirects in a circle: ${[...redirects, url.href].slice(-3).join(' → ')}.`,
        fix: 'Have the web team mend the redirects, or give the page they should end on.',
      };
    if (redirects.length > MOST_REDIRECTS)
      return {
        ok: false,
        why: `It redirects more than ${MOST_REDIRECTS} times.`,
        fix: 'Give the address it should end on.',
      };
    been.add(url.href);
    const answer = await ask(url, rules);
    if ('why' in answer) return { ok: false, ...answer };
    if (answer.location) {
      if (!URL.canParse(answer.location, url))
        return {
          ok: false,
          why: 'It redirects to what is no address.',
          fix: 'Have the web team mend the redirect.',
        };
      const next = new URL(answer.location, url);
      if (next.href.length > LONGEST_ADDRESS)
        return {
          ok: false,
          why: 'It redirects to an address of more than 2,000 characters.',
          fix: 'Give the address it should end on, without what is behind its question mark.',
        };
      if (next.protocol !== 'http:' && next.protocol !== 'https:')
        return {
          ok: false,
          why: `It redirects to a ${next.protocol} address.`,
          fix: 'Give the address of the site itself.',
        };
      next.hash = '';
      redirects.push(next.href);
      url = next;
      continue;
    }
    if (answer.status >= 400)
      return {
        ok: false,
        why: `It answers ${answer.status}.`,
        fix:
          answer.status === 401 || answer.status === 403
            ? 'Give a page that is open to everyone.'
            : 'Check the address, or try again when the site is up.',
      };
    if (!/html/i.test(answer.type))
      return {
        ok: false,
        why: `It is ${answer.type || 'nothing a browser shows'}, not a web page.`,
        fix: 'Give the address of a page.',
      };
    return {
      ok: true,
      url: url.href,
      host: url.host,
      redirects,
      status: answer.status,
      title: titleOf(answer.text),
    };
  }
}

interface Answer {
  readonly status: number;
  readonly location: string | undefined;
  readonly type: string;
  readonly text: string;
}

async function ask(url: URL, rules: DestinationRules): Promise<Answer | { why: string; fix: string }> {
  const port = Number(url.port || (url.protocol === 'https:' ? 443 : 80));
  const to = await destination(url.hostname, port, rules);
  if ('refused' in to) {
    const unknown = to.refused.startsWith('No address');
    return {
      why: `${to.refused}.`,
      fix: unknown
        ? 'Check the spelling.'
        : 'Sweeps only go to public addresses. An administrator can allow this one with ALLOWED_PRIVATE.',
    };
  }
  // Either loopback may answer.
  const address = to.address === 'localhost' ? '127.0.0.1' : to.address;
  const family = isIP(address);
  const lookup = ((_host, options, done) =>
    options.all
      ? (done as (e: null, a: { address: string; family: number }[]) => void)(null, [{ address, family }])
      : (done as (e: null, a: string, f: number) => void)(null, address, family)) as LookupFunction;
  return new Promise((resolve) => {
    const secure = url.protocol === 'https:';
    const request = (secure ? httpsRequest : httpRequest)(
      url,
      {
        lookup,
        agent: secure ? new HttpsAgent() : new HttpAgent(),
        timeout: ANSWER_MS,
        headers: { accept: 'text/html,*/*;q=0.5', 'user-agent': 'Mozilla/5.0 (compatible; YareWarden)' },
      },
      (response) => {
        let text = '';
        let size = 0;
        const finish = () =>
          resolve({
            status: response.statusCode ?? 0,
            location: isRedirect(response.statusCode) ? response.headers.location : undefined,
            type: response.headers['content-type'] ?? '',
            text,
          });
        response.on('data', (chunk: Buffer) => {
          size += chunk.length;
          text += chunk.toString('utf8');
          if (size > MOST_HTML || /<\/title>/i.test(text)) {
            finish();
            request.destroy();
          }
        });
        response.on('end', finish);
        response.on('error', finish);
      },
    );
    const late = setTimeout(() => {
      resolve({
        why: 'It did not answer within 10 seconds.',
        fix: 'Check that the site is up, or try again later.',
      });
      request.destroy();
    }, ANSWER_MS);
    request.on('close', () => clearTimeout(late));
    request.on('upgrade', (_answer, socket) => {
      socket.destroy();
      resolve({
        why: 'It answers 101, to a question that nobody asked.',
        fix: 'Have the web team see what answers there; it is no web server.',
      });
    });
    request.on('error', (error: NodeJS.ErrnoException) => resolve(failure(error)));
    request.end();
  });
}

function isRedirect(status: number | undefined): boolean {
  return status !== undefined && [301, 302, 303, 307, 308].includes(status);
}

function failure(error: NodeJS.ErrnoException): { why: string; fix: string } {
  const code = error.code ?? '';
  if (/CERT|SELF_SIGNED|UNABLE_TO|ALTNAME|SSL|EPROTO/.test(code))
    return {
      why: `Its certificate is not valid (${code.toLowerCase().replaceAll('_', ' ')}), so a visitor’s browser would stop.`,
      fix: 'Have the web team renew the certificate. If the site has none, begin the address with http://.',
    };
  if (code === 'ECONNREFUSED')
    return { why: 'Nothing answers at this address.', fix: 'Check the address and its port.' };
  if (code === 'ECONNRESET')
    return { why: 'It closed the connection without an answer.', fix: 'Check that the site is up.' };
  return {
    why: `It could not be reached (${code || error.message}).`,
    fix: 'Check the address and try again.',
  };
}

function titleOf(html: string): string {
  const raw = /<title[^>]*>([^<]{0,300})/i.exec(html)?.[1] ?? '';
  return raw
    .replace(/&#(\d+);/g, (_, n: string) => String.fromCodePoint(Math.min(Number(n), 0x10ffff)))
    .replace(/&amp;/g, '&')
    .replace(/\s+/g, ' ')
    .trim()
    .slice(0, 120);
}
