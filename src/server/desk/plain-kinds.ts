import { notFound } from '../../core/refusal.ts';
import type { AreaObject } from '../area.ts';
import { AREAS } from '../areas.ts';

const PLAIN_KINDS: ReadonlyMap<string, AreaObject> = new Map(
  AREAS.flatMap((a) => a.objects ?? []).map((o) => [o.kind.object, o]),
);

/** A kind of object that is edited as it stands. Throws a RefusedError (404). */
export function plainKind(name: string): AreaObject {
  const found = PLAIN_KINDS.get(name);
  if (!found) throw notFound('kind of object');
  return found;
}
