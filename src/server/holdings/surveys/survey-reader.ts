import { z } from 'zod';
import type { SurveyContent } from '../../../core/holdings/surveys/survey.ts';
import { leavesOut, mostOfFolder, someOf } from '../../../core/holdings/surveys/survey.ts';
import type { Connector } from '../connectors/connector.ts';
import { walkPlaces, type Shard, type WalkedPlace } from '../connectors/walk.ts';

/** Where reading goes on: in this place, behind this name. */
export const ReaderPlace = z.object({ place: z.string(), after: z.string().nullable() });
export type ReaderPlace = z.infer<typeof ReaderPlace>;

/** No name comes before it. */
export const BEGINNING: ReaderPlace = { place: '', after: '' };

/** Names of a place that are read together. */
export interface Batch {
  readonly path: string;
  readonly names: readonly string[];
  readonly problem: string | undefined;
  /** All names of the place, with its last batch. */
  readonly all: readonly string[] | undefined;
  /** Whether this batch is all of the place. */
  readonly whole: boolean;
  /** Names of the place that come after it. */
  readonly left: number;
  /** Of the walk, in [0, 1], once this place is read. */
  readonly share: number;
}

const NAMES = 1000;

/** The items of a source in an order that is the same each time, so that it can go on from any of them. */
export class SurveyReader {
  readonly #walk: AsyncGenerator<WalkedPlace>;
  readonly #most: number | null;
  readonly #from: ReaderPlace | null;
  #open: { readonly place: WalkedPlace; readonly names: readonly string[]; at: number } | undefined;
  #first = true;

  constructor(
    readonly connector: Connector,
    plan: Pick<SurveyContent, 'without' | 'share'>,
    from: ReaderPlace | null,
    signal: AbortSignal,
    shard?: Shard,
  ) {
    this.#from = from;
    this.#most = mostOfFolder(plan);
    this.#walk = walkPlaces(connector, { from: from?.place, excluded: leavesOut(plan), signal, shard });
  }

  /** At most so many names of one place; `undefined` at the end. */
  async next(most = NAMES): Promise<Batch | undefined> {
    if (!this.#open) {
      const { value, done } = await this.#walk.next();
      if (done || !value) return undefined;
      const names = someOf(value.names, this.#most);
      this.#open = { place: value, names, at: 0 };
      if (this.#first && this.#from?.place === value.path) {
        const after = this.#from.after;
        if (after === null) this.#open.at = names.length;
        else {
          const next = names.findIndex((n) => n > after);
          this.#open.at = next < 0 ? names.length : next;
        }
      }
      this.#first = false;
    }
    const { place, names, at } = this.#open;
    const some = names.slice(at, at + most);
    this.#open.at += some.length;
    const last = this.#open.at >= names.length;
    if (last) this.#open = undefined;
    return {
      path: place.path,
      left: names.length - at - some.length,
      names: some,
      problem: place.problem,
      all: last && place.problem === undefined ? place.names : undefined,
      whole: at === 0 && last,
      share: place.share,
    };
  }
}

/** The next batches with so many names together; none at the end. */
export async function takeBatches(reader: SurveyReader, names: number): Promise<readonly Batch[]> {
  const batches: Batch[] = [];
  for (let n = 0; n < names && batches.length < 200;) {
    const batch = await reader.next(names - n);
    if (!batch) break;
    batches.push(batch);
    n += batch.names.length;
  }
  return batches;
}

/** Where reading goes on behind a batch. */
export function placeBehind({ path, names }: Batch): ReaderPlace {
  return { place: path, after: names.at(-1) ?? null };
}
