import { AREAS } from '../areas.ts';

type ActionsOf<A> = A extends { readonly actions: infer P } ? keyof P & string : never;

/** What a person may do, of all areas. */
export type Action = ActionsOf<(typeof AREAS)[number]>;

export const ACTIONS = AREAS.flatMap((a) => Object.keys(a.actions)) as Action[];

export function isAction(name: string): name is Action {
  return (ACTIONS as readonly string[]).includes(name);
}
