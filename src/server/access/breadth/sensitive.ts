import { builtInDetectors } from '../../../core/holdings/offers.ts';

/** Kinds of data that the law treats with more care, and numbers that open doors. */
const SENSITIVE: ReadonlySet<string> = new Set([
  'special category',
  'health',
  'child',
  'offence',
  'identity',
  'credential',
]);

/** Detectors of what is sensitive, by id: of those that ship, and of own ones by their category. */
export function sensitiveDetectors(
  own: readonly { readonly id: string; readonly category: string }[],
): readonly string[] {
  return [...builtInDetectors(), ...own].flatMap((d) => (SENSITIVE.has(d.category) ? [d.id] : []));
}
