import type { ShownSent } from '../../../core/websites/notice/from-where.ts';
import { logFailure } from '../../processes/failure-log.ts';
import type { Store } from '../../store/pool.ts';

const MOST_KEYS = 20_000;
const MOST_PAGES = 200;

/** How often notices were shown, counted in memory and put down every few seconds. */
export class ShownCounts {
  #counts = new Map<string, { row: readonly (string | number)[]; n: number }>();
  readonly #pages = new Map<number, Set<string>>();

  constructor(
    readonly store: Store,
    readonly now: () => Date,
  ) {}

  add(siteId: number, region: string, { version, language, device, page }: ShownSent): void {
    const pages = this.#pages.get(siteId) ?? new Set();
    this.#pages.set(siteId, pages);
    // Whoever makes up parts of a site does not fill the table.
    const group = pages.has(page) || pages.size < MOST_PAGES ? page : '';
    pages.add(group);
    const row = [siteId, this.now().toISOString().slice(0, 10), version, region, language, device, group];
    const key = row.join('\n');
    const counted = this.#counts.get(key);
    if (counted) counted.n++;
    else if (this.#counts.size < MOST_KEYS) this.#counts.set(key, { row, n: 1 });
  }

  /** Puts down what was counted; what cannot be put down now is kept for the next time. */
  async flush(): Promise<void> {
    const counts = [...this.#counts.values()];
    if (counts.length === 0) return;
    this.#counts = new Map();
    try {
      for (let i = 0; i < counts.length; i += 500)
        await this.store.run(
          'INSERT INTO notice_shown (site_id, day, version, region, language, device, page_group, n) VALUES ? ON DUPLICATE KEY UPDATE n = n + VALUES(n)',
          [counts.slice(i, i + 500).map((c) => [...c.row, c.n])],
        );
    } catch (error) {
      logFailure('counts of shown notices could not be put down', error);
      for (const c of counts) {
        const key = c.row.join('\n');
        const newer = this.#counts.get(key);
        if (newer) newer.n += c.n;
        else this.#counts.set(key, c);
      }
    }
  }
}
