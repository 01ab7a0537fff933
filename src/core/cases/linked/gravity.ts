import type { LinkedData } from './linked.ts';

/** Numbers of insured people, which say nothing of health by themselves. */
const INSURED = /^(?:gb-nhs|de-kranken|us-mbi|au-medicare|ca-bc-phn|ehic)/;
const HARMFUL = ['identity', 'finance', 'travel', 'credential'];

/** Special categories and offences (GDPR Art. 9 and 10). */
export function isSpecial({ detector, category }: LinkedData): boolean {
  return ['special category', 'health', 'offence'].includes(category) && !INSURED.test(detector);
}

/** Data whose loss people feel most: special categories, offences, and what is of children. */
export function graveData(data: readonly LinkedData[]): readonly LinkedData[] {
  return data.filter((d) => isSpecial(d) || d.category === 'child');
}

/** Data that others can do harm with in somebody’s name; a name alone is none. */
export function harmfulData(data: readonly LinkedData[]): readonly LinkedData[] {
  return data.filter(
    (d) => (HARMFUL.includes(d.category) || INSURED.test(d.detector)) && d.detector !== 'person-name',
  );
}
