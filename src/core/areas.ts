import { ACCOUNTS } from './accounts/area.ts';
import type { CoreArea } from './area.ts';
import { DESK } from './desk/area.ts';
import type { TodayKind } from './desk/today-kind.ts';
import { EVIDENCE } from './evidence/area.ts';
import { HOLDINGS } from './holdings/area.ts';
import { WEBSITES } from './websites/area.ts';

export const AREAS = [DESK, WEBSITES, HOLDINGS, EVIDENCE, ACCOUNTS] as const satisfies readonly CoreArea[];

type ActionsOf<A> = A extends { readonly actions: infer P } ? keyof P & string : never;

type KindsOf<A> = A extends { readonly today: infer T } ? keyof T & string : never;

/** Kinds of what needs a hand, of all areas. */
export type TodayKindName = KindsOf<(typeof AREAS)[number]>;

/** What a person may do. */
export type Action = ActionsOf<(typeof AREAS)[number]>;

export const ACTIONS = AREAS.flatMap((a) => Object.keys(a.actions)) as Action[];

/** By its name; `undefined` for what no area tells of. */
export function todayKind(name: string): TodayKind | undefined {
  return (AREAS as readonly CoreArea[]).map((a) => a.today?.[name]).find((k) => k !== undefined);
}
