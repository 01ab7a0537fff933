import { PatternDetector, type BuiltIn } from './detector.ts';
import { POSTAL_ADDRESS } from './library/address.ts';
import { DATE_OF_BIRTH } from './library/birth.ts';
import { CREDENTIALS } from './library/credential.ts';
import { EMAIL } from './library/email.ts';
import { HEALTH_NUMBERS } from './library/health-number.ts';
import { EUROPE } from './library/national-europe.ts';
import { NORDIC } from './library/national-nordic.ts';
import { WORLD } from './library/national-world.ts';
import { NETWORK } from './library/network.ts';
import { PAYMENT } from './library/payment.ts';
import { PERSON_NAME } from './library/person.ts';
import { PHONE_NUMBER } from './library/phone.ts';
import { SPECIAL } from './library/special-category.ts';
import { TRAVEL } from './library/travel.ts';

/** What ships, with its tests: the order settles which of two equally sure readings wins. */
export const BUILT_INS: readonly BuiltIn[] = [
  EMAIL,
  PHONE_NUMBER,
  PERSON_NAME,
  DATE_OF_BIRTH,
  POSTAL_ADDRESS,
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
