import { PatternDetector, type BuiltIn } from '../detector/detector.ts';
import { POSTAL_ADDRESS } from './address.ts';
import { DATE_OF_BIRTH } from './birth.ts';
import { CREDENTIALS } from './credential.ts';
import { EMAIL } from './email.ts';
import { HEALTH_NUMBERS } from './health-number.ts';
import { EUROPE } from './national-europe.ts';
import { NORDIC } from './national-nordic.ts';
import { WORLD } from './national-world.ts';
import { NETWORK } from './network.ts';
import { PAYMENT } from './payment.ts';
import { PERSON_NAME } from './person.ts';
import { PHONE_NUMBER } from './phone.ts';
import { SPECIAL } from './special-category.ts';
import { TRAVEL } from './travel.ts';

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
