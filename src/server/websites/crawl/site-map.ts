import robotsParser from 'robots-parser';
import { SaxesParser } from 'saxes';
import { fetch, ProxyAgent } from 'undici';
import { readLimited } from '../../http/read-limited.ts';
import { within } from '../../processes/within.ts';

const ANSWER_MS = 8_000;
/** Bytes of one file, unpacked (sitemaps.org lets one have 50 MB; nobody needs as much). */
const MOST_TEXT = 20 * 1024 * 1024;
const MOST_NAMED = 50_000;
const MOST_DELAY_MS = 10_000;
const LONGEST_ADDRESS = 2000;
/** The name by which robots.txt may speak to sweeps alone. */
export const ROBOT_NAME = 'YareWarden';

/** What a site says about itself to robots. */
export interface SiteFiles {
  /** Pages that its site maps name, in order. */
  readonly pages: readonly string[];
  allows(url: string): boolean;
  /** Milliseconds between pages that it asks for, as far as they are kept to; 0 where it does not. */
  readonly paceMs: number;
}

/** Reads robots.txt (RFC 9309) and, where wanted, the site maps (sitemaps.org) it names or that stand in the usual place. */
export async function readSiteFiles(
  startUrl: string,
  proxy: string,
  wantsPages: boolean,
): Promise<SiteFiles> {
  const { origin } = new URL(startUrl);
  const dispatcher = new ProxyAgent({ uri: proxy, headersTimeout: ANSWER_MS, bodyTimeout: ANSWER_MS });
  const read = (url: string) => within(2 * ANSWER_MS, fetchText(url, dispatcher), '');
  try {
    const text = await read(`${origin}/robots.txt`);
    const robots = robotsParser(`${origin}/robots.txt`, /<html/i.test(text) ? '' : text.slice(0, 500 * 1024));
    const named = robots.getSitemaps().filter((s) => s.startsWith(`${origin}/`));
    const pages: string[] = [];
    const queue = wantsPages ? [...new Set([...named, `${origin}/sitemap.xml`])] : [];
    for (let n = 0; queue.length > 0 && n < 20; n++) {
      const found = readSitemapXml(await read(queue.shift() as string));
      for (const page of found.pages) if (pages.length < MOST_NAMED) pages.push(page);
      queue.push(...found.sitemaps.filter((s) => s.startsWith(`${origin}/`)).slice(0, 100));
    }
    return {
      pages,
      allows: (url) => robots.isAllowed(url, ROBOT_NAME) !== false,
      paceMs: Math.min(MOST_DELAY_MS, (robots.getCrawlDelay(ROBOT_NAME) ?? 0) * 1000),
    };
  } finally {
    await dispatcher.close().catch(() => {});
  }
}

async function fetchText(url: string, dispatcher: ProxyAgent): Promise<string> {
  const response = await fetch(url, { dispatcher, redirect: 'manual' });
  if (!response.ok) return '';
  // What is packed may be a thousand times as long unpacked: it is counted as it comes out.
  const bytes = await readLimited(response.body, null, MOST_TEXT, 'too long');
  return bytes.toString('utf8');
}

/** The addresses in a sitemap or a sitemap index; what was read until then of what is neither, or ends badly. */
export function readSitemapXml(text: string): { pages: string[]; sitemaps: string[] } {
  const found = { pages: [] as string[], sitemaps: [] as string[] };
  const parser = new SaxesParser();
  const open: string[] = [];
  let loc = '';
  parser.on('opentag', ({ name }) => {
    open.push(name.replace(/^.*:/, ''));
    loc = '';
    if (open.length > 12) throw new Error('too deep');
  });
  parser.on('text', (t) => {
    if (open.at(-1) === 'loc' && loc.length < LONGEST_ADDRESS) loc += t;
  });
  parser.on('cdata', (t) => {
    if (open.at(-1) === 'loc' && loc.length < LONGEST_ADDRESS) loc += t;
  });
  parser.on('closetag', () => {
    const [name, parent] = [open.pop(), open.at(-1)];
    const list = parent === 'url' ? found.pages : parent === 'sitemap' ? found.sitemaps : undefined;
    const address = loc.trim();
    if (name === 'loc' && list && address !== '' && list.length < MOST_NAMED) list.push(address);
  });
  parser.on('error', (error) => {
    throw error;
  });
  try {
    parser.write(text).close();
  } catch {
    // What was named before it went wrong still counts.
  }
  return found;
}
