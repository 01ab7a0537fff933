import { sha256 } from '@noble/hashes/sha2.js';
import type { Finding } from '../detection/detector/finding.ts';
import { builtInDetectors } from '../detection/library/library.ts';

/** Numbers of the identity category that belong to organisations, or to either. */
const NOT_OF_ONE_PERSON = new Set([
  'person-name',
  'date-of-birth',
  'se-organisationsnummer',
  'dk-cvr',
  'us-ein',
  'br-cnpj',
  'au-abn',
  'pl-nip',
  'co-nit',
  'gr-afm',
  'ru-inn',
  'id-npwp',
]);

let national: ReadonlySet<string> | undefined;

/** Detectors whose value belongs to one person alone. */
export function identifiesPerson(detector: string): boolean {
  national ??= new Set([
    ...builtInDetectors()
      .filter((d) => d.category === 'identity' && !NOT_OF_ONE_PERSON.has(d.id))
      .map((d) => d.id),
    'email',
  ]);
  return national.has(detector);
}

/** Whether what a detector finds goes into who is counted as a person. */
export function countsPeople(detector: string): boolean {
  return identifiesPerson(detector) || detector === 'person-name' || detector === 'date-of-birth';
}

/**
 * The people that findings of one item tell of, as keyed hashes of 8 bytes each, in order, each once. A row of a table is
 * one person: known by the national number in it, else by the mail address, else by name and date of birth. Outside of
 * rows every national number and every mail address is a person, and a name and a date of birth are one where there is
 * one of each. Who is known by a number here and by an address there counts twice. No clear value goes in: the findings' hashes are keyed already.
 */
export function peopleOf(findings: readonly Finding[]): Uint8Array {
  const people = new Set<string>();
  const rows = new Map<string, Finding[]>();
  for (const f of findings) {
    if (f.hash === '' || !countsPeople(f.detector)) continue;
    const { part = '', sheet = '', row } = f.place;
    const key = row === undefined ? '' : `${part}\n${sheet}\n${row}`;
    const ofRow = rows.get(key);
    if (ofRow) ofRow.push(f);
    else rows.set(key, [f]);
  }
  for (const [key, found] of rows) {
    const numbers = distinct(found, (d) => d !== 'email' && identifiesPerson(d));
    const mails = distinct(found, (d) => d === 'email');
    const names = distinct(found, (d) => d === 'person-name');
    const births = distinct(found, (d) => d === 'date-of-birth');
    const [name, birth] = [names[0], births[0]];
    if (key === '') for (const hash of [...numbers, ...mails]) people.add(personHash(hash));
    else if (numbers[0]) people.add(personHash(numbers[0]));
    else if (mails[0]) people.add(personHash(mails[0]));
    const known = numbers.length + mails.length > 0;
    if (!known && name && birth && (key !== '' || (names.length === 1 && births.length === 1)))
      people.add(personHash(`${name} ${birth}`));
  }
  const bytes = new Uint8Array(people.size * 8);
  for (const [i, hex] of [...people].sort().entries())
    for (let b = 0; b < 8; b++) bytes[i * 8 + b] = parseInt(hex.slice(b * 2, b * 2 + 2), 16);
  return bytes;
}

function distinct(findings: readonly Finding[], is: (detector: string) => boolean): readonly string[] {
  return [...new Set(findings.filter((f) => is(f.detector)).map((f) => f.hash))];
}

/** Of what is known of somebody by its keyed hash, or by those of a name and a birth date with a blank between; 16 hexadecimal digits. */
export function personHash(keyed: string): string {
  const digest = sha256(new TextEncoder().encode(keyed));
  return [...digest.subarray(0, 8)].map((b) => b.toString(16).padStart(2, '0')).join('');
}
