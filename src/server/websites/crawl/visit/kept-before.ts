import type { BrowserContext } from 'playwright-core';
import { z } from 'zod';
import { within } from '../../../processes/within.ts';
import type { JarCookie } from '../collector.ts';
import type { PageWorld } from '../page/page-world.ts';

/** Keys of local and of session storage, each with a hash of what it held; `null` where storage is closed. */
const Entries = z.array(z.array(z.tuple([z.string(), z.number()]))).nullable();
type Entries = z.infer<typeof Entries>;

/** What stood on the visitor's device before a choice, so that only what the choice let happen is left after it. */
export interface Standing {
  readonly jar: readonly JarCookie[];
  readonly stored: readonly { readonly frame: string; readonly entries: Entries }[];
}

const ANSWER_MS = 2000;
/** Entries of one storage that are looked at. */
const MOST = 5000;

export async function standingBefore(context: BrowserContext, world: PageWorld): Promise<Standing> {
  const stored = world.frames().map(async (frame) => ({
    frame,
    entries: await within(ANSWER_MS, world.run(frame, storage, { most: MOST, remove: null }, Entries), null),
  }));
  return { jar: await readJar(context), stored: await Promise.all(stored) };
}

/** Takes away what stands as it stood. */
export async function clearStanding(
  context: BrowserContext,
  world: PageWorld,
  { jar, stored }: Standing,
): Promise<void> {
  await clearUnchanged(context, jar);
  await Promise.all(
    stored.map(({ frame, entries }) =>
      within(ANSWER_MS, world.run(frame, storage, { most: 0, remove: entries }, Entries), undefined),
    ),
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

/** Runs in the page: what its storage holds; and takes away of `remove` what stands as it stood. */
function storage({
  most,
  remove,
}: {
  readonly most: number;
  readonly remove: [string, number][][] | null;
}): [string, number][][] | null {
  const hash = (text: string): number => {
    let [a, b] = [0xdeadbeef, 0x41c6ce57];
    for (let i = 0; i < text.length; i++) {
      a = Math.imul(a ^ text.charCodeAt(i), 2654435761);
      b = Math.imul(b ^ text.charCodeAt(i), 1597334677);
    }
    return (b >>> 0) * 2 ** 20 + ((a >>> 0) & 0xfffff);
  };
  try {
    return [localStorage, sessionStorage].map((area, i) => {
      for (const [key, was] of remove?.[i] ?? []) {
        const value = area.getItem(key);
        if (value !== null && hash(value) === was) area.removeItem(key);
      }
      return Array.from({ length: Math.min(most, area.length) }, (_, n): [string, number] => {
        const key = area.key(n) ?? '';
        return [key, hash(area.getItem(key) ?? '')];
      }).filter(([key]) => key.length < 2000);
    });
  } catch {
    // Storage is closed to this frame.
    return null;
  }
}
