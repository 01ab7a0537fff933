import type { Exposure } from '../../../core/access/breadth/breadth.ts';
import { DistinctPeople, type Selection } from '../../../core/holdings/offers.ts';
import type { AreaAnswers } from '../../holdings/offers.ts';

/** Where the items of some places lie, and which detectors find what is sensitive. */
export interface ExposureQuestion {
  readonly regions: readonly (readonly [place: number, holds: string])[];
  readonly sensitive: readonly string[];
}

export type ExposureAnswer = readonly (readonly [place: number, exposure: Exposure])[];

interface Counting {
  items: number;
  readonly people: DistinctPeople;
  readonly exposed: DistinctPeople;
  readonly data: Map<string, number>;
}

/** What lies in places, each item counted for the nearest that is asked about. */
export class ExposureAnswers implements AreaAnswers {
  answer({ parts }: Selection, question: unknown): ExposureAnswer {
    const { regions, sensitive } = question as ExposureQuestion;
    const byHolds = new Map(regions.map(([place, holds]) => [holds, place]));
    const found = new Map<number, Counting>();
    const wanted = new Set(sensitive);
    for (const { index, set } of parts) {
      const { block } = index;
      const nearest = block.words.places.map((place) => regionOf(place, byHolds));
      const columns = block.found.filter((f) => wanted.has(f.detector));
      const holding = new Map<number, string[]>();
      for (const { detector, items } of columns)
        for (const item of items) {
          const of = holding.get(item);
          if (of) of.push(detector);
          else holding.set(item, [detector]);
        }
      for (const i of index.positions(set)) {
        const region = nearest[block.place[i] as number];
        if (region === undefined) continue;
        const counting = found.get(region) ?? begun();
        found.set(region, counting);
        counting.items++;
        const [from, to] = [(block.peopleFrom[i] as number) / 8, (block.peopleFrom[i + 1] as number) / 8];
        counting.people.addSome(index.hashes, from, to);
        const data = holding.get(block.items[i] as number);
        if (!data) continue;
        counting.exposed.addSome(index.hashes, from, to);
        for (const d of data) counting.data.set(d, (counting.data.get(d) ?? 0) + 1);
      }
    }
    return [...found].map(([place, c]) => [
      place,
      {
        ...{ items: c.items, people: c.people.count().people, sensitive: c.exposed.count().people },
        data: [...c.data]
          .map(([value, count]) => ({ value, count }))
          .sort((a, b) => b.count - a.count || (a.value < b.value ? -1 : 1)),
      },
    ]);
  }
}

function begun(): Counting {
  return { items: 0, people: new DistinctPeople(), exposed: new DistinctPeople(), data: new Map() };
}

/** The nearest place, at it or above, that is asked about. */
function regionOf(place: string, byHolds: ReadonlyMap<string, number>): number | undefined {
  for (let here = place; ;) {
    const found = byHolds.get(here);
    if (found !== undefined) return found;
    const cut = here.lastIndexOf('/');
    if (cut < 0) return undefined;
    here = here.slice(0, cut);
  }
}
