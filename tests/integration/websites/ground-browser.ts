import { chromium, type Browser, type BrowserContext, type Page } from 'playwright-core';
import { afterAll, afterEach, beforeAll, beforeEach } from 'vitest';
import type { ScriptGround } from './script-ground.ts';

interface Opened {
  readonly browser: Browser;
  readonly context: BrowserContext;
  readonly page: Page;
}

/** A browser on a ground for all tests of a file, and a page of its own for each, which `take` is given. */
export function browseGround(
  script: ScriptGround,
  prepare: () => void,
  take: (opened: Opened) => void,
): void {
  let browser: Browser | undefined;
  let context: BrowserContext | undefined;
  beforeAll(async () => {
    await script.start();
    browser = await chromium.launch({
      executablePath: process.env['CHROMIUM'] ?? '/usr/bin/chromium',
      args: ['--no-sandbox', '--disable-gpu', '--disable-background-networking', '--no-first-run'],
    });
  });
  afterAll(async () => {
    await browser?.close();
    script.stop();
  });
  beforeEach(async () => {
    prepare();
    if (!browser) throw new Error('No browser was begun.');
    context = await browser.newContext();
    take({ browser, context, page: await context.newPage() });
  });
  afterEach(() => context?.close());
}
