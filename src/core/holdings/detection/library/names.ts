import names from './names.json' with { type: 'json' };

/**
 * Given and family names of some forty languages, lower case: the lists of the library @faker-js/faker 10 (MIT) with the
 * most frequent ones of more countries added, also as they are written without their marks. First names that are common
 * words are left out.
 */
export const FIRST_NAMES: readonly string[] = names.first.split(' ');
export const SURNAMES: readonly string[] = names.last.split(' ');
/** First names so frequent where English, Danish, Swedish or German is spoken that any surname may follow. */
export const FREQUENT_FIRST_NAMES: readonly string[] = names.frequent.split(' ');
/** Surnames that are words of their own too, in the dictionaries of these languages. */
export const ORDINARY_SURNAMES: readonly string[] = names.ordinary.split(' ');
