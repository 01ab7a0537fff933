import type { Trait } from './subject.ts';

/** Built-in detectors, and their kinds, that find what people are recognised by. */
const BY_DETECTOR: Readonly<Record<string, Trait>> = {
  email: 'e-mail',
  phone: 'phone',
  'person-name': 'name',
  'date-of-birth': 'birth date',
  'postal-address': 'address',
};

/** Categories of detectors whose values are numbers of one person. */
const NUMBERED = new Set(['identity', 'health', 'travel']);

/** What a detector of this id and category recognises people by; `undefined` for one that does not. */
export function traitOf(detector: string, category: string): Trait | undefined {
  return BY_DETECTOR[detector] ?? (NUMBERED.has(category) ? 'number' : undefined);
}
