import type { Question } from './criteria.ts';

/** A kind of processing for which an authority asks for an assessment (Art. 35(4)). */
export interface ListEntry {
  /** ISO 3166-1. */
  readonly country: string;
  readonly authority: string;
  readonly words: string;
  /** All of these hold. */
  readonly all: readonly Question[];
  /** And so many of the nine criteria besides those. */
  readonly more?: number;
}

const list = (
  country: string,
  authority: string,
  ...entries: readonly (readonly [words: string, all: readonly Question[], more?: number])[]
): readonly ListEntry[] =>
  entries.map(([words, all, more]) => ({
    ...{ country, authority, words, all },
    ...(more ? { more } : {}),
  }));

/**
 * Lists of national authorities, by what they ask in the words of the questions here. They were shortened; the authority's own
 * text decides. A country that is not among them is judged by the regulation and the guidelines alone.
 */
export const NATIONAL_LISTS: readonly ListEntry[] = [
  ...list(
    'DK',
    'Datatilsynet',
    ['biometric data to tell people apart, and one criterion more', ['biometric'], 1],
    ['genetic data, and one criterion more', ['genetic'], 1],
    ['where people are, and one criterion more', ['location'], 1],
    ['new technology, and one criterion more', ['innovative'], 1],
    [
      'a service is given or refused by an automated decision, or by special categories',
      ['blocking', 'automated'],
    ],
    ['a service is given or refused by special categories', ['blocking', 'special']],
    ['vulnerable people are profiled or decided on by a machine', ['vulnerable', 'evaluation', 'automated']],
    ['profiles of people on a large scale', ['evaluation', 'large scale']],
    ['somebody’s body could be harmed if it goes wrong', ['bodily', 'sensitive']],
  ),
  ...list(
    'SE',
    'Integritetsskyddsmyndigheten',
    ['two of the nine criteria', [], 2],
    ['staff are watched systematically', ['staff', 'monitoring']],
    ['biometric data of people in a weaker place', ['biometric', 'vulnerable']],
  ),
  ...list(
    'DE',
    'Datenschutzkonferenz',
    ['biometric data to tell vulnerable people apart, or on a large scale', ['biometric', 'large scale']],
    ['biometric data of vulnerable people', ['biometric', 'vulnerable']],
    ['genetic data of vulnerable people', ['genetic', 'vulnerable']],
    ['where people are, on a large scale', ['location', 'large scale']],
    [
      'data from several sources that did not come from the people, to evaluate them',
      ['unseen', 'combining', 'evaluation'],
    ],
    ['cameras in public areas, on a large scale', ['public area', 'monitoring', 'large scale']],
    ['staff are evaluated by what they do, with effect for them', ['staff', 'evaluation', 'monitoring']],
    ['profiles of people and what they like, on a large scale', ['evaluation', 'monitoring', 'large scale']],
    [
      'artificial intelligence that evaluates people, or steers what they are told',
      ['intelligence', 'evaluation'],
    ],
    ['people can be kept from a contract by a score', ['evaluation', 'blocking', 'automated']],
  ),
  ...list(
    'GB',
    'Information Commissioner',
    ['new technology, and one criterion more', ['innovative'], 1],
    ['a service is refused by an automated decision, or by special categories', ['blocking', 'automated']],
    ['a service is refused by special categories', ['blocking', 'special']],
    ['profiles of people on a large scale', ['evaluation', 'large scale']],
    ['biometric data, and one criterion more', ['biometric'], 1],
    ['genetic data, and one criterion more', ['genetic'], 1],
    ['data are matched that came from several places', ['combining', 'large scale']],
    ['people are not told where it did not come from them, and one criterion more', ['unseen'], 1],
    ['where people are or what they do is followed, and one criterion more', ['monitoring', 'location'], 1],
    [
      'children or others are profiled or decided on by a machine, or addressed with offers',
      ['children', 'evaluation'],
    ],
    ['somebody’s body could be harmed if it goes wrong', ['bodily']],
  ),
  ...list(
    'FR',
    'CNIL',
    ['health data of an institution', ['special', 'vulnerable', 'large scale']],
    ['profiles of staff', ['staff', 'evaluation']],
    ['staff are watched all the time', ['staff', 'monitoring']],
    ['where people are, on a large scale', ['location', 'large scale']],
    ['biometric data of vulnerable people', ['biometric', 'vulnerable']],
    ['people can be kept from a contract for good', ['blocking', 'evaluation']],
  ),
];
