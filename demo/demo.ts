import type { Context } from '../src/server/context.ts';
import type { Queries } from '../src/server/store/pool.ts';
import type { LedgerDraft } from './ledger.ts';
import type { Random } from './random.ts';

const DAY = 86_400_000;

/** What the areas load the made-up ferry line into. */
export class Demo {
  /** Accounts by the name of the person. */
  readonly people = new Map<string, number>();
  readonly lines: LedgerDraft[] = [];
  readonly #afterwards: ((places: ReadonlyMap<string, number>) => Promise<void>)[] = [];

  constructor(
    readonly ctx: Context,
    readonly tx: Queries,
    readonly random: Random,
    readonly tell: (words: string) => void,
    readonly now = ctx.now(),
  ) {}

  at(daysAgo: number): Date {
    return new Date(this.now.getTime() - daysAgo * DAY);
  }

  person(name: string): number {
    const id = this.people.get(name);
    if (id === undefined) throw new Error(`Nobody is called ${name}.`);
    return id;
  }

  /** Once the ledger is written, with the ids of entries by what they are about. */
  afterwards(work: (places: ReadonlyMap<string, number>) => Promise<void>): void {
    this.#afterwards.push(work);
  }

  async finish(places: ReadonlyMap<string, number>): Promise<void> {
    for (const work of this.#afterwards) await work(places);
  }
}

/** What an area brings to the demo: `demo/AREA/area.ts`. */
export interface DemoArea {
  readonly area: string;
  load(demo: Demo): Promise<void>;
}
