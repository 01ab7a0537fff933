import type { Difference, Json } from '../../../rules/change.ts';
import { mask } from '../../../text/mask.ts';

/** A change of a detector without clear values: lists of values may name real people. */
export function redactDetectorChange({ path, before, after }: Difference): Difference {
  const listed = path[0] === 'exclude' && path[1] !== 'patterns';
  const masked = (value: Json | undefined) =>
    value === undefined
      ? undefined
      : listed
        ? maskAll(value)
        : path[0] === 'checks'
          ? maskValues(value)
          : value;
  return { path, before: masked(before), after: masked(after) };
}

function maskAll(value: Json): Json {
  if (typeof value === 'string') return mask(value, 'ends');
  if (Array.isArray(value)) return value.map((v: Json) => maskAll(v));
  return value;
}

/** The lists named `values`, at any depth. */
function maskValues(value: Json): Json {
  if (Array.isArray(value)) return value.map((v: Json) => maskValues(v));
  if (typeof value !== 'object' || value === null) return value;
  return Object.fromEntries(
    Object.entries(value).map(([k, v]) => [k, k === 'values' ? maskAll(v as Json) : maskValues(v as Json)]),
  );
}
