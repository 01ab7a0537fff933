import type { Locator, Page } from 'playwright-core';
import type { ClickStep, SitePaths } from '../../../../core/websites/sweeps/click-path.ts';
import type { Visitor } from '../../../../core/websites/trackers/visitor.ts';

const STEP_MS = 8000;
const CONTROLS =
  'button, a, input, label, summary, select, [role="button"], [role="link"], [role="checkbox"], [role="tab"], [onclick]';

/** A step of a recorded path that could not be done; the message says which and why. */
export class PathError extends Error {
  /** As whom it was tried, where that is known. */
  visitor: Visitor | undefined;

  constructor(
    message: string,
    readonly path: keyof SitePaths,
    /** From 1. */
    readonly step: number,
  ) {
    super(message);
  }
}

/** Does a recorded path on the page. Throws a PathError. */
export async function playPath(page: Page, paths: SitePaths, name: keyof SitePaths): Promise<void> {
  for (const [i, step] of paths[name].entries()) {
    try {
      await play(page, step);
    } catch (error) {
      const timedOut = (error as Error).name === 'TimeoutError';
      const on = step.act === 'go to' ? step.path : step.on;
      throw new PathError(
        `Step ${i + 1} (${step.act} ${on}) could not be done: ${timedOut ? 'nothing on the page is that within 8 seconds' : firstLine(error as Error)}.`,
        name,
        i + 1,
      );
    }
  }
}

async function play(page: Page, step: ClickStep): Promise<void> {
  switch (step.act) {
    case 'go to':
      await page.goto(new URL(step.path, page.url()).href, {
        waitUntil: 'domcontentloaded',
        timeout: 20_000,
      });
      await page.waitForLoadState('load', { timeout: STEP_MS }).catch(() => {});
      return;
    case 'click': {
      await find(page, step.on).click({ timeout: STEP_MS });
      await page.waitForLoadState('load', { timeout: STEP_MS }).catch(() => {});
      return;
    }
    case 'type':
      await find(page, step.on).fill(step.text, { timeout: STEP_MS });
      return;
    case 'wait for':
      await find(page, step.on).waitFor({ timeout: STEP_MS });
  }
}

function find(page: Page, on: string): Locator {
  const words = /^["“](.*)["”]$/.exec(on)?.[1];
  return words === undefined
    ? page.locator(on).first()
    : page.locator(CONTROLS).filter({ hasText: words, visible: true }).first();
}

function firstLine(error: Error): string {
  return (error.message.split('\n')[0] ?? '').replace(/^.*?: /, '').replace(/\.$/, '');
}
