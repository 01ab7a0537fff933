import { isOpen, leftBefore } from '../../../core/access/estate/people.ts';
import type { EstateView } from './estate-index.ts';

/** How large the estate is, and what stands out in it. */
export interface EstateCounts {
  readonly revision: number;
  readonly places: number;
  readonly ownPlaces: number;
  readonly people: number;
  readonly groups: number;
  readonly guests: number;
  readonly leaversOpen: number;
  readonly links: number;
  readonly linksWithoutEnd: number;
  readonly faults: readonly string[];
}

const MOST_FAULTS = 20;

export function countsOf({ estate, marks, reach, revision }: EstateView): EstateCounts {
  const { people, tree, links } = estate;
  const all = [...links.values()].flat();
  const open = people.persons.filter((p) => isOpen(p, reach.day));
  return {
    ...{ revision, places: tree.places.length, ownPlaces: marks.count },
    ...{ people: people.persons.length, groups: people.groups.length },
    guests: open.filter((p) => p.guest).length,
    leaversOpen: open.filter((p) => leftBefore(p, reach.day) !== null).length,
    links: all.length,
    linksWithoutEnd: all.filter((l) => l.until === null).length,
    faults: estate.faults.slice(0, MOST_FAULTS).map((f) => f.words),
  };
}
