import type { CoreArea } from '../area.ts';
import { AREAS } from '../areas.ts';
import type { TodayKind } from './today-kind.ts';

type KindsOf<A> = A extends { readonly today: infer T } ? keyof T & string : never;

/** Kinds of what needs a hand, of all areas. */
export type TodayKindName = KindsOf<(typeof AREAS)[number]>;

/** By its name; `undefined` for what no area tells of. */
export function todayKind(name: string): TodayKind | undefined {
  return (AREAS as readonly CoreArea[]).map((a) => a.today?.[name]).find((k) => k !== undefined);
}
