import { SCOPE_KINDS } from '../../core/accounts/scope.ts';
import type { AuthorityObject } from '../../core/accounts/authority.ts';

/** For an endpoint that is about all there is of a kind that accounts can be kept to; of all such kinds by default. */
export function whole(kind: string, of: readonly string[] = [...SCOPE_KINDS.keys()]): () => AuthorityObject {
  return () => ({ kind, id: null, wholeOf: of });
}
