import type { Random } from '../../random.ts';

/** Somebody made up, with numbers that pass their check digits. */
export interface DemoPerson {
  readonly given: string;
  readonly family: string;
  readonly name: string;
  readonly country: 'DK' | 'SE' | 'DE' | 'GB';
  /** ISO 8601. */
  readonly born: string;
  readonly email: string;
  readonly phone: string;
  readonly passport: string;
  /** CPR, personnummer, Steuer-ID or National Insurance number. */
  readonly national: string;
  readonly street: string;
  readonly town: string;
}

const NAMES: Readonly<Record<DemoPerson['country'], readonly [readonly string[], readonly string[]]>> = {
  DK: [
    [
      'Anders',
      'Birgit',
      'Clara',
      'Emil',
      'Freja',
      'Henrik',
      'Ida',
      'Jens',
      'Karen',
      'Mads',
      'Rikke',
      'Søren',
    ],
    [
      'Andersen',
      'Bech',
      'Dahl',
      'Frandsen',
      'Holm',
      'Jensen',
      'Kjær',
      'Lund',
      'Møller',
      'Nygaard',
      'Ravn',
      'Thomsen',
    ],
  ],
  SE: [
    [
      'Astrid',
      'Björn',
      'Elin',
      'Gustav',
      'Ingrid',
      'Johan',
      'Kerstin',
      'Lars',
      'Maja',
      'Oskar',
      'Sofia',
      'Åsa',
    ],
    [
      'Berg',
      'Eriksson',
      'Forsberg',
      'Hedlund',
      'Lindgren',
      'Nordin',
      'Nyström',
      'Sandberg',
      'Sjöberg',
      'Åkesson',
    ],
  ],
  DE: [
    ['Anke', 'Bernd', 'Dieter', 'Heike', 'Jürgen', 'Katrin', 'Lukas', 'Monika', 'Stefan', 'Ulrike'],
    [
      'Albrecht',
      'Brandt',
      'Fischer',
      'Hoffmann',
      'Krüger',
      'Lehmann',
      'Petersen',
      'Schröder',
      'Vogel',
      'Weiß',
    ],
  ],
  GB: [
    ['Alice', 'Brian', 'Emma', 'George', 'Hannah', 'James', 'Margaret', 'Oliver', 'Rachel', 'Thomas'],
    [
      'Ashworth',
      'Bennett',
      'Clarke',
      'Ellis',
      'Fletcher',
      'Hughes',
      'Marsh',
      'Pearson',
      'Whitlock',
      'Wright',
    ],
  ],
};
const STREETS: Readonly<Record<DemoPerson['country'], readonly string[]>> = {
  DK: ['Havnegade', 'Strandvejen', 'Kirkestræde', 'Møllevej'],
  SE: ['Storgatan', 'Hamngatan', 'Skolvägen', 'Ängsvägen'],
  DE: ['Hafenstraße', 'Lindenweg', 'Marktstraße', 'Deichweg'],
  GB: ['Harbour Road', 'Church Lane', 'Mill Street', 'Cliff Terrace'],
};
const TOWNS: Readonly<Record<DemoPerson['country'], readonly [string, () => string][]>> = {
  DK: [
    ['Østervig', () => '4790'],
    ['Nordby', () => '6720'],
  ],
  SE: [
    ['Halmsund', () => '302 44'],
    ['Ängelhamn', () => '262 33'],
  ],
  DE: [
    ['Kaltenhagen', () => '24376'],
    ['Dornsiel', () => '26427'],
  ],
  GB: [
    ['Marrow Quay', () => 'DN35 8QT'],
    ['Tarnmouth', () => 'NE30 4BY'],
  ],
};
const CALLING = { DK: '+45', SE: '+46 70', DE: '+49 171', GB: '+44 7700' } as const;

export function demoPerson(random: Random, ages: readonly [number, number] = [19, 84]): DemoPerson {
  const country = random.weighted({ DK: 4, SE: 3, DE: 2, GB: 2 });
  const [givens, families] = NAMES[country];
  const [given, family] = [random.pick(givens), random.pick(families)];
  const year = 2026 - ages[0] - random.below(ages[1] - ages[0] + 1);
  const born = `${year}-${two(1 + random.below(12))}-${two(1 + random.below(28))}`;
  const plain = `${given}.${family}`
    .toLowerCase()
    .replace(/[øö]/g, 'o')
    .replace(/[åä]/g, 'a')
    .replace(/æ/g, 'ae')
    .replace(/ü/g, 'u')
    .replace(/ß/g, 'ss');
  const [town, code] = random.pick(TOWNS[country]);
  const house = 1 + random.below(140);
  const street = random.pick(STREETS[country]);
  return {
    given,
    family,
    name: `${given} ${family}`,
    country,
    born,
    email: `${plain}${10 + random.below(990)}@${random.pick(['post', 'mail', 'inbox'])}.example`,
    phone: `${CALLING[country]} ${digits(random, country === 'GB' ? 6 : country === 'SE' ? 7 : 8)}`,
    passport: `${random.pick(['K', 'P', 'C', 'L'])}${digits(random, 8)}`,
    national: nationalNumber(random, country, born),
    street: country === 'GB' ? `${house} ${street}` : `${street} ${house}`,
    town: country === 'GB' ? `${town} ${code()}` : `${code()} ${town}`,
  };
}

function nationalNumber(random: Random, country: DemoPerson['country'], born: string): string {
  const [year = '', month = '', day = ''] = born.split('-');
  switch (country) {
    case 'DK':
      for (;;) {
        // Before 2000 the serial begins below 4, after it at 4 or more.
        const serial = `${Number(year) < 2000 ? random.below(4) : 4 + random.below(6)}${digits(random, 2)}`;
        const first = `${day}${month}${year.slice(2)}${serial}`;
        const sum = [4, 3, 2, 7, 6, 5, 4, 3, 2].reduce((n, w, i) => n + w * Number(first[i]), 0);
        const check = (11 - (sum % 11)) % 11;
        if (check < 10) return `${first.slice(0, 6)}-${serial}${check}`;
      }
    case 'SE': {
      const first = `${year.slice(2)}${month}${day}${digits(random, 3)}`;
      return `${first.slice(0, 6)}-${first.slice(6)}${luhn(first)}`;
    }
    case 'DE':
      return germanTaxId(random);
    case 'GB':
      return `${random.pick(['AB', 'JC', 'PK', 'SW'])} ${digits(random, 2)} ${digits(random, 2)} ${digits(random, 2)} ${random.pick(['A', 'B', 'C', 'D'])}`;
  }
}

function luhn(text: string): number {
  const sum = [...text].reduce((n, d, i) => {
    const doubled = Number(d) * (i % 2 === text.length % 2 ? 1 : 2);
    return n + (doubled > 9 ? doubled - 9 : doubled);
  }, 0);
  return (10 - (sum % 10)) % 10;
}

/** Eleven digits, one of the first ten twice, by ISO 7064 MOD 11,10. */
function germanTaxId(random: Random): string {
  const all = [...'0123456789'];
  const chosen = Array.from({ length: 9 }, () => all.splice(random.below(all.length), 1)[0] as string);
  if (chosen[0] === '0') chosen.push(chosen.shift() as string);
  const first = [...chosen, random.pick(chosen)].join('');
  let product = 10;
  for (const d of first) {
    const sum = (Number(d) + product) % 10 || 10;
    product = (sum * 2) % 11;
  }
  const check = (11 - product) % 10;
  return `${first.slice(0, 2)} ${first.slice(2, 5)} ${first.slice(5, 8)} ${first.slice(8)}${check}`;
}

/** Of a Danish bank, by ISO 13616. */
export function demoIban(random: Random): string {
  const account = digits(random, 14);
  let rest = 0;
  for (const d of `${account}131400`) rest = (rest * 10 + Number(d)) % 97;
  return `DK${two(98 - rest)}${account}`.replace(/(.{4})(?=.)/g, '$1 ');
}

/** Sixteen digits that pass Luhn, of a range for tests. */
export function demoCard(random: Random): string {
  const first = `400000${digits(random, 9)}`;
  return `${first}${luhn(first)}`.replace(/(.{4})(?=.)/g, '$1 ');
}

export function digits(random: Random, n: number): string {
  return Array.from({ length: n }, () => random.below(10)).join('');
}

export function two(n: number): string {
  return String(n).padStart(2, '0');
}
