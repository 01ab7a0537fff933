import { XMLParser } from 'fast-xml-parser';
import robotsParser from 'robots-parser';
import { fetch, ProxyAgent } from 'undici';
import { within } from '../../processes/within.ts';

const ANSWER_MS = 8_000;
const MOST_TEXT = 50 * 1024 * 1024;
/** The name by which robots.txt may speak to sweeps alone. */
export const ROBOT_NAME = 'YareWarden';

/** What a site says about itself to robots. */
export interface SiteFiles {
  /** Pages that its site maps name, in order. */
  readonly pages: readonly string[];
  allows(url: string): boolean;
  /** Seconds between pages that it asks for; 0 where it does not. */
  readonly crawlDelay: number;
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
      for (const page of found.pages.slice(0, 50_000)) pages.push(page);
      queue.push(...found.sitemaps.filter((s) => s.startsWith(`${origin}/`)));
    }
    return {
      pages,
      allows: (url) => robots.isAllowed(url, ROBOT_NAME) !== false,
      crawlDelay: robots.getCrawlDelay(ROBOT_NAME) ?? 0,
    };
  } finally {
    await dispatcher.close().catch(() => {});
  }
}

async function fetchText(url: string, dispatcher: ProxyAgent): Promise<string> {
  const response = await fetch(url, { dispatcher, redirect: 'manual' });
  return response.ok ? response.text() : '';
}

/** The addresses in a sitemap or a sitemap index; nothing for what is neither. */
export function readSitemapXml(text: string): { pages: string[]; sitemaps: string[] } {
  if (text.length > MOST_TEXT) return { pages: [], sitemaps: [] };
  try {
    const parsed = new XMLParser({
      processEntities: true,
      isArray: (name) => name === 'url' || name === 'sitemap',
    }).parse(text) as {
      urlset?: { url?: { loc?: unknown }[] };
      sitemapindex?: { sitemap?: { loc?: unknown }[] };
    };
    const locs = (list: { loc?: unknown }[] | undefined) =>
      (list ?? []).map((e) => String(e.loc ?? '').trim()).filter(Boolean);
    return { pages: locs(parsed.urlset?.url), sitemaps: locs(parsed.sitemapindex?.sitemap) };
  } catch {
    return { pages: [], sitemaps: [] };
  }
}
