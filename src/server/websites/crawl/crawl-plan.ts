import type { SitePaths } from '../../../core/websites/sweeps/click-path.ts';
import type { NoticeReading } from '../../../core/websites/reading/notice-reading.ts';
import type { Region } from '../../../core/websites/notice/region.ts';
import type { Scope } from '../../../core/websites/sweeps/scope.ts';
import type { Visitor } from '../../../core/websites/trackers/visitor.ts';
import type { Aliases } from './browser/aliases.ts';
import type { OutboundProxy } from './browser/outbound-proxy.ts';
import type { Sighted } from './collector.ts';

export interface CrawlPlan {
  readonly startUrl: string;
  readonly scope: Scope;
  readonly visitor: Visitor;
  readonly region: Region;
  /** The purposes that a visitor with a choice of its own allows. */
  readonly chosen: readonly string[];
  readonly paths: SitePaths;
  /** How the site's notice was read; `null` where it was not, or is the organisation's own. */
  readonly reading: NoticeReading | null;
  /** Words on controls of what may be the notice: nobody presses them who makes no choice. */
  readonly leaveAlone?: readonly string[];
  /** Of the notice's switches the only one to be on, for a choice of one's own. */
  readonly onlySwitch?: string | undefined;
  /** Unix milliseconds after which no page is begun. */
  readonly until: number;
  readonly tabs: number;
  /** The pages another visitor saw, so that all see the same; `undefined` to find them. */
  readonly pages: readonly string[] | undefined;
  readonly executable: string;
  readonly profiles: string;
  readonly proxy: { readonly url: string; readonly guard: OutboundProxy };
  readonly aliases: Aliases;
  /** Sent with every request to the notice's own service: opens what is only rehearsed, and tells the region. */
  readonly service:
    { readonly origin: string; readonly headers: Readonly<Record<string, string>> } | undefined;
  /** Changes a page of the site before the browser reads it; for trying a fix. */
  readonly rewrite?: ((html: string, url: string) => string) | undefined;
  readonly picture: boolean;
}

export interface SweptPage {
  readonly url: string;
  /** HTTP status; `null` where there was no answer. */
  readonly status: number | null;
  readonly note: string;
}

export interface CrawlResult {
  readonly visitor: Visitor;
  readonly pages: readonly SweptPage[];
  readonly sightings: readonly Sighted[];
  /** Out of the ordinary, as the officer reads it. */
  readonly notes: readonly string[];
  /** What the choice was made on; `null` when none was to be made, or nothing was there to press. */
  readonly operated: string | null;
  readonly couldChoose: boolean;
  /** Why no choice could be made, as the officer reads it; empty where it could. */
  readonly whyNot: string;
  /** Its time ended before it had seen all pages: what it did not see may be there. */
  readonly incomplete: boolean;
  /** The start page as this visitor sees it, a JPEG. */
  readonly picture: Buffer | undefined;
}

export interface CrawlProgress {
  readonly pages: number;
  readonly known: number;
  readonly trackers: number;
}
