import type { BrowserContext, Page } from 'playwright-core';
import type { CrawlPlan } from '../crawl-plan.ts';
import { PageProbe, type ProbeSettings } from './page-probe.ts';

/** A tab that is watched, and gets what the plan changes on its way. */
export async function openTab(
  context: BrowserContext,
  { startUrl, service, rewrite }: Pick<CrawlPlan, 'startUrl' | 'service' | 'rewrite'>,
  settings: Partial<ProbeSettings>,
  opened: (page: Page) => void = () => {},
): Promise<{ page: Page; probe: PageProbe }> {
  const page = await context.newPage();
  opened(page);
  const probe = await PageProbe.attach(page, settings);
  if (service) await probe.interception.addHeaders(service.origin, service.headers);
  if (rewrite) await probe.interception.rewritePages(new URL(startUrl).origin, rewrite);
  return { page, probe };
}
