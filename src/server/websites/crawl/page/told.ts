import { z } from 'zod';

export const TOLD_KINDS = [
  'cookie',
  'local storage',
  'session storage',
  'IndexedDB',
  'IndexedDB gone',
  'cache storage',
  'cache storage gone',
  'worker',
  'service worker',
  'fingerprint',
  'link',
] as const;
export type ToldKind = (typeof TOLD_KINDS)[number];

const MOST = 6000;

/** What the page-side probe tells, a JSON list on the console. Who did it, the browser tells. */
export const Told = z
  .tuple([
    z.enum(TOLD_KINDS),
    z.string().max(MOST),
    z.string().max(MOST),
    z.int().nonnegative(),
    /** Why the browser refused it; empty where it was done, `?` where the page cannot know. */
    z.string().max(MOST),
  ])
  .transform(([kind, name, value, length, refused]) => ({ kind, name, value, length, refused }));
export type Told = z.infer<typeof Told>;

export type Report = (kind: ToldKind, name: string, value?: string, refused?: string) => void;
