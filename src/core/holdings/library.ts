import { PatternDetector, type BuiltIn } from './detector.ts';
import { CONTACT } from './library/contact.ts';
import { CREDENTIALS } from './library/credential.ts';
import { HEALTH_NUMBERS } from './library/health-number.ts';
import { EUROPE } from './library/national-europe.ts';
import { NORDIC } from './library/national-nordic.ts';
import { WORLD } from './library/national-world.ts';
import { NETWORK } from './library/network.ts';
import { PAYMENT } from './library/payment.ts';
import { SPECIAL } from './library/special-category.ts';
import { TRAVEL } from './library/travel.ts';

/** What ships, with its tests: the order settles which of two equally sure readings wins. */
export const BUILT_INS: readonly BuiltIn[] = [
  ...CONTACT,
  ...PAYMENT,
  ...NORDIC,
  ...EUROPE,
  ...WORLD,
  ...HEALTH_NUMBERS,
  ...TRAVEL,
  ...NETWORK,
  ...CREDENTIALS,
  ...SPECIAL,
];

let parsed: readonly PatternDetector[] | undefined;

/** The built-in detectors, complete. */
export function builtInDetectors(): readonly PatternDetector[] {
  return (parsed ??= BUILT_INS.map((b) => PatternDetector.parse(b)));
}
