import { SCOPE_KINDS } from '../../core/accounts/scope.ts';
import type { ScopeOption } from '../area.ts';
import { AREAS } from '../areas.ts';
import type { Queries } from '../store/pool.ts';

/** One kind of what accounts can be kept to, with those there are. */
export interface ScopeChoice {
  readonly kind: string;
  readonly words: string;
  readonly options: readonly ScopeOption[];
}

export async function scopeOptions(store: Queries): Promise<readonly ScopeChoice[]> {
  const kinds = AREAS.flatMap((a) => Object.entries(a.scopes ?? {}));
  return Promise.all(
    kinds.map(async ([kind, list]) => ({
      kind,
      words: SCOPE_KINDS.get(kind)?.words ?? kind,
      options: await list(store),
    })),
  );
}
