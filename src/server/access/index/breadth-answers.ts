import { breadthOf, type BreadthFinding, type Exposure } from '../../../core/access/breadth/breadth.ts';
import { idKey } from '../keys.ts';
import type { EstateView } from './estate-index.ts';
import { daysBefore, namesOf, USED_DAYS, pathOf } from './place-answers.ts';

/** A place with something of its own, and where its items lie. */
export interface Region {
  readonly place: number;
  readonly holds: string;
}

/** Places with something of their own that hold items of Holdings. */
export function regionsOf({ estate, marks, holds, revision }: EstateView): {
  readonly revision: number;
  readonly regions: readonly Region[];
} {
  const regions: Region[] = [];
  for (const [place, { id }] of estate.tree.places.entries()) {
    const lies = holds.get(id);
    if (lies !== undefined && marks.mark(place) !== 'inherits') regions.push({ place, holds: lies });
  }
  return { revision, regions };
}

/** A finding with what the desk calls it. */
export interface NamedFinding extends Omit<BreadthFinding, 'place' | 'who'> {
  readonly place: string;
  readonly placeKey: string | null;
  readonly who: string;
  readonly whoKey: string | null;
  readonly name: string;
  readonly path: string;
  readonly data: Exposure['data'];
}

export function findingsOf(
  view: EstateView,
  exposures: readonly (readonly [place: number, exposure: Exposure])[],
): readonly NamedFinding[] {
  const { tree } = view.estate;
  const names = namesOf(view);
  const byPlace = new Map(exposures);
  return breadthOf(view.reach, view.marks, {
    exposures: byPlace,
    uses: view.uses,
    since: daysBefore(view.reach.day, USED_DAYS),
  }).map(({ place, who, ...rest }) => {
    const id = place === null ? '' : (tree.places[place]?.id ?? '');
    return {
      ...rest,
      ...{ place: id, placeKey: place === null ? null : idKey(id) },
      ...{ who: who ?? '', whoKey: who === null ? null : idKey(who) },
      name: place === null ? names.person(who ?? '') : names.place(id),
      path: place === null ? '' : pathOf(view, place).join(' / '),
      data: place === null ? [] : (byPlace.get(place)?.data ?? []),
    };
  });
}
