import { z } from 'zod';
import { matchesGlob } from '../../text/glob.ts';

const Pattern = z
  .string()
  .trim()
  .max(300, 'At most 300 characters')
  .regex(/^[/*]/, 'Begin with / (or *), as in /offers/*');

/** How far the sweeps of a site go. */
export const Scope = z.object({
  /** More pages to begin at, as paths of the site. */
  startPaths: z.array(z.string().trim().max(1000).regex(/^\//, 'Begin with /')).max(50).default([]),
  sitemap: z.boolean().default(true),
  /** Only pages that match one of these; all where there is none. `*` stands for anything. */
  include: z.array(Pattern).max(50).default([]),
  exclude: z.array(Pattern).max(50).default([]),
  maxPages: z.int().min(1, 'At least 1 page').max(5000, 'At most 5,000 pages').default(250),
  maxMinutes: z.int().min(1, 'At least 1 minute').max(240, 'At most 240 minutes').default(30),
  /** Links away from a start page. */
  maxDepth: z.int().min(0, 'At least 0').max(50, 'At most 50').default(12),
  /** At most so many pages of one shape; `null`: all of them. */
  perShape: z.int().min(1, 'At least 1').max(1000, 'At most 1,000').nullable().default(null),
  /** Why robots.txt is not kept to; empty: it is. */
  robotsOverride: z.string().trim().max(500, 'At most 500 characters').default(''),
  /** Least milliseconds between the starts of two pages. */
  paceMs: z.int().min(0).max(60_000, 'At most a minute').default(0),
});
export type Scope = z.infer<typeof Scope>;

export const WHOLE_SITE: Scope = Scope.parse({});

/** Whether a page's path and query are in by the patterns. */
export function isIncluded(scope: Pick<Scope, 'include' | 'exclude'>, url: string): boolean {
  const { pathname, search } = new URL(url);
  const path = pathname + search;
  const matches = (pattern: string) => matchesGlob(pattern, path) || matchesGlob(pattern, pathname);
  return (scope.include.length === 0 || scope.include.some(matches)) && !scope.exclude.some(matches);
}

/**
 * What pages made by one template have in common: the path with its last segment, and every segment that holds a
 * digit, as `*`, and the names of the query. The page of a folder itself has a shape of its own.
 */
export function shapeOf(url: string): string {
  const { pathname, searchParams } = new URL(url);
  const segments = pathname.split('/').slice(1);
  const last = segments.length - 1;
  const shape = segments.map((s, i) => ((i === last && last > 0 && s !== '') || /\d/.test(s) ? '*' : s));
  const names = [...new Set(searchParams.keys())].sort();
  return `/${shape.join('/')}${names.length ? `?${names.join('&')}` : ''}`;
}
