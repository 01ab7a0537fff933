import names from './names.json' with { type: 'json' };

/**
 * Given and family names of eighteen languages, lower case: the lists of the library @faker-js/faker 10 (MIT) with the
 * most frequent ones of the Danish, Swedish, German and British statistics offices added.
 */
export const FIRST_NAMES: readonly string[] = names.first.split(' ');
export const SURNAMES: readonly string[] = names.last.split(' ');
