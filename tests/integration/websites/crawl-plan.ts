import { mkdtemp, readdir, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { findProgram } from '../../../launcher/prerequisites.ts';
import { NO_PATHS } from '../../../src/core/websites/sweeps/click-path.ts';
import { WHOLE_SITE } from '../../../src/core/websites/sweeps/scope.ts';
import { Aliases } from '../../../src/server/websites/crawl/browser/aliases.ts';
import type { CrawlPlan } from '../../../src/server/websites/crawl/crawl-plan.ts';
import { visitsFolder } from '../../../src/server/websites/crawl/browser/confinement.ts';
import { OutboundProxy } from '../../../src/server/websites/crawl/browser/outbound-proxy.ts';

/** What crawls of a test's own sites on one loopback port need: a guard, a folder for profiles, and plans. */
export class CrawlGround {
  private constructor(
    readonly port: number,
    readonly folder: string,
    readonly proxy: CrawlPlan['proxy'],
  ) {}

  static async on(port: number): Promise<CrawlGround> {
    const guard = new OutboundProxy({ privateAllowed: new Set([`localhost:${port}`]) }, 1e7);
    const folder = await mkdtemp(join(tmpdir(), 'yare-crawl-'));
    return new CrawlGround(port, folder, { url: await guard.listen(), guard });
  }

  /** Folders of visits that are still there. */
  async leftVisits(): Promise<readonly string[]> {
    return readdir(this.visits).catch(() => []);
  }

  /** Where those folders are. */
  get visits(): string {
    return visitsFolder(this.profiles);
  }

  get profiles(): string {
    return join(this.folder, 'profiles');
  }

  /** A crawl of `host.localhost` as the visitor who makes no choice, but for what is given. */
  plan(host: string, over: Partial<CrawlPlan> = {}): CrawlPlan {
    return {
      startUrl: `http://${host}.localhost:${this.port}/`,
      scope: { ...WHOLE_SITE, maxPages: 60 },
      visitor: 'before',
      region: 'DK',
      chosen: ['measurement'],
      paths: NO_PATHS,
      reading: null,
      until: Date.now() + 120_000,
      tabs: 2,
      pages: undefined,
      executable: findProgram('chromium') ?? '',
      profiles: this.profiles,
      proxy: this.proxy,
      aliases: new Aliases(),
      service: undefined,
      picture: false,
      ...over,
    };
  }

  async leave(): Promise<void> {
    await this.proxy.guard.close();
    await rm(this.folder, { recursive: true, force: true, maxRetries: 5 });
    await rm(visitsFolder(this.profiles), { recursive: true, force: true, maxRetries: 5 });
  }
}
