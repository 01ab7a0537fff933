import type { BrowserContext, Page } from 'playwright-core';
import type { JarCookie } from './collector.ts';
import { within } from '../../processes/within.ts';

/** What stood on the visitor's device before a choice, so that only what the choice let happen is left after it. */
export interface Standing {
  readonly jar: readonly JarCookie[];
  /** Of each frame in order; `null` where storage is closed. */
  readonly stored: readonly ([string, string][][] | null)[];
}

const ANSWER_MS = 2000;

export async function standingBefore(context: BrowserContext, page: Page): Promise<Standing> {
  const stored = page.frames().map((f) => within(ANSWER_MS, f.evaluate(storageEntries), null));
  return { jar: await readJar(context), stored: await Promise.all(stored) };
}

/** Takes away what stands as it stood. */
export async function clearStanding(
  context: BrowserContext,
  page: Page,
  { jar, stored }: Standing,
): Promise<void> {
  await clearUnchanged(context, jar);
  await Promise.all(
    page.frames().map((f, i) => within(ANSWER_MS, f.evaluate(removeUnchanged, stored[i] ?? null), undefined)),
  );
}

export async function readJar(context: BrowserContext): Promise<JarCookie[]> {
  const cookies = await context.cookies();
  return cookies.map((c) => ({
    name: c.name,
    value: c.value,
    domain: c.domain,
    expires: c.expires,
    httpOnly: c.httpOnly,
    secure: c.secure,
    sameSite: c.sameSite,
    partitioned: Boolean(c.partitionKey),
  }));
}

async function clearUnchanged(context: BrowserContext, before: readonly JarCookie[]): Promise<void> {
  const after = await readJar(context);
  for (const old of before) {
    const same = after.some(
      (c) =>
        c.name === old.name &&
        c.domain === old.domain &&
        c.value === old.value &&
        Math.abs(c.expires - old.expires) < 2,
    );
    if (same) await context.clearCookies({ name: old.name, domain: old.domain });
  }
}

/** Runs in the page. */
function storageEntries(): [string, string][][] | null {
  try {
    return [localStorage, sessionStorage].map((s) => Object.entries(s) as [string, string][]);
  } catch {
    return null;
  }
}

/** Runs in the page: takes away what stands as it stood before the choice. */
function removeUnchanged(before: [string, string][][] | null): void {
  try {
    [localStorage, sessionStorage].forEach((s, i) => {
      for (const [key, value] of before?.[i] ?? []) if (s.getItem(key) === value) s.removeItem(key);
    });
  } catch {
    // Storage is closed to this frame.
  }
}
