import type { Frontier } from '../../../core/websites/sweeps/frontier.ts';
import type { Scope } from '../../../core/websites/sweeps/scope.ts';
import type { Collector } from './collector.ts';
import type { CrawlPlan } from './crawl-plan.ts';

/** What is told of a visitor that was not led to all pages in its time. */
export const TIME_LIMIT = 'Stopped at the time limit; pages were left. What was not walked says nothing.';

/** Visitors who walk at once: one where somebody asks for a pause between two pages. */
export function visitorsAtOnce({ paceMs }: Pick<Scope, 'paceMs'>): number {
  return paceMs > 0 ? 1 : 2;
}

export function stoppedByTime(
  { until }: Pick<CrawlPlan, 'until'>,
  frontier: Pick<Frontier, 'left'> | undefined,
  calledOff: boolean,
  now: number,
): boolean {
  return now >= until && !calledOff && (frontier === undefined || frontier.left > 0);
}

/** What a visitor of the site was not led to, and why, as the officer reads it. `now` in Unix milliseconds. */
export function limitNotes(
  plan: CrawlPlan,
  frontier: Frontier | undefined,
  collector: Collector,
  calledOff: boolean,
  now: number,
): readonly string[] {
  const { scope } = plan;
  const notes: string[] = [];
  if (frontier?.cut)
    notes.push(
      frontier.known >= scope.maxPages
        ? `Stopped at the limit of ${scope.maxPages} pages; the site has more.`
        : `Links more than ${scope.maxDepth} steps from the start were not followed.`,
    );
  for (const { shape, kept, left } of frontier?.sampled.slice(0, 12) ?? [])
    notes.push(`Of ${kept + left} pages like ${shape}, ${kept} were swept as a sample.`);
  if (frontier && frontier.disallowed > 0)
    notes.push(
      `${frontier.disallowed === 1 ? '1 page was' : `${frontier.disallowed} pages were`} left out, as robots.txt asks.`,
    );
  if (scope.robotsOverride && !plan.pages) notes.push(`robots.txt was not kept to: ${scope.robotsOverride}`);
  if (stoppedByTime(plan, frontier, calledOff, now)) notes.push(TIME_LIMIT);
  if (collector.overflowed) notes.push('More kinds of trackers than are counted: 20,000.');
  if (collector.unreadable > 0)
    notes.push('Something on a page made no sense, and was left out of what was found.');
  return notes;
}
