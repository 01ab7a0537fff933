import { mod97 } from '../../src/core/holdings/detection/detector/check-digit.ts';
import type { Mark } from '../../src/core/holdings/detection/labelled/labelled.ts';
import type { Random } from '../random.ts';

export interface DemoText {
  readonly name: string;
  readonly text: string;
  readonly marks: readonly Mark[];
}

const FIRST = [
  'Anders',
  'Birgit',
  'Katrin',
  'Lars',
  'Sofie',
  'Emma',
  'Jonas',
  'Ingrid',
  'Thomas',
  'Hannah',
  'Erik',
  'Mette',
  'Oliver',
  'Greta',
  'Peter',
  'Maria',
];
const LAST = [
  'Holmqvist',
  'Sørensen',
  'Vogel',
  'Whitlock',
  'Brandt',
  'Nyström',
  'Mortensen',
  'Lindgren',
  'Hartwell',
  'Krüger',
  'Dahlberg',
  'Winther',
];
const SHIPS = ['MS Hale', 'MS Brindle', 'MS Corrie', 'MS Sandvik Bay', 'MS Ottermere'];
const PORTS = ['Halmsund', 'Østervig', 'Kaltenhagen', 'Marrow Quay'];

/** What stands in a text at `{name}`: a value, and the detector that should find it; none for what only looks like one. */
type Value = readonly [value: string, label: string];

/**
 * Letters, notes and lists of the ferry line, with what is personal in them marked as they are made: one text in each
 * of the templates, again and again, and as many numbers that only look like something.
 */
export function demoTexts(random: Random): readonly DemoText[] {
  return Array.from({ length: 84 }, (_, i) => {
    const [name, template] = TEMPLATES[i % TEMPLATES.length] as readonly [string, string];
    const marks: Mark[] = [];
    let text = '';
    let last = 0;
    for (const m of template.matchAll(/\{([a-z ]+)\}/g)) {
      text += template.slice(last, m.index);
      last = m.index + m[0].length;
      const [value, label] = (VALUES[m[1] as string] as (r: Random) => Value)(random);
      if (label) marks.push({ start: text.length, end: text.length + value.length, label });
      text += value;
    }
    return {
      name: `${name} ${Math.floor(i / TEMPLATES.length) + 1}`,
      text: text + template.slice(last),
      marks,
    };
  });
}

const digits = (random: Random, n: number) => Array.from({ length: n }, () => random.below(10)).join('');
const person = (random: Random) => `${random.pick(FIRST)} ${random.pick(LAST)}`;
const two = (n: number) => String(n).padStart(2, '0');

/** The digit that makes the whole stand Luhn’s check. */
export function luhnDigit(body: string): string {
  let sum = 0;
  for (const [i, c] of [...body].reverse().entries()) {
    const n = Number(c) * (i % 2 === 0 ? 2 : 1);
    sum += n > 9 ? n - 9 : n;
  }
  return String((10 - (sum % 10)) % 10);
}

function cardNumber(random: Random): string {
  const body = `4${digits(random, 14)}`;
  return `${body}${luhnDigit(body)}`.replace(/(\d{4})(?=\d)/g, '$1 ');
}

function personnummer(random: Random): string {
  const body = `${two(40 + random.below(59))}${two(1 + random.below(12))}${two(1 + random.below(28))}${digits(random, 3)}`;
  return `${body.slice(0, 6)}-${body.slice(6)}${luhnDigit(body)}`;
}

function iban(random: Random): string {
  const body = `5000${digits(random, 10)}`;
  const check = two(98 - mod97(`${body}132000`));
  return `DK${check}${body}`.replace(/(.{4})(?=.)/g, '$1 ');
}

function milesNumber(random: Random): string {
  const body = digits(random, 8);
  const all = body + luhnDigit(body);
  return `SM-${all.slice(0, 4)} ${all.slice(4, 8)} ${all.slice(8)}`;
}

const VALUES: Readonly<Record<string, (random: Random) => Value>> = {
  person: (r) => [person(r), 'person-name'],
  email: (r) => [
    `${person(r)
      .toLowerCase()
      .replace(' ', '.')
      .normalize('NFKD')
      .replace(/[^a-z.]/g, '')}@postbox.example`,
    'email',
  ],
  phone: (r) => [
    `+45 ${r.pick(['31', '40', '51', '26'])} ${digits(r, 2)} ${digits(r, 2)} ${digits(r, 2)}`,
    'phone',
  ],
  card: (r) => [cardNumber(r), 'payment-card'],
  iban: (r) => [iban(r), 'iban'],
  cpr: (r) => [
    `${two(1 + r.below(28))}${two(1 + r.below(12))}${two(40 + r.below(59))}-${1 + r.below(3)}${digits(r, 3)}`,
    'dk-cpr',
  ],
  personnummer: (r) => [personnummer(r), 'se-personnummer'],
  birth: (r) => [
    `${1 + r.below(28)} ${r.pick(['March', 'June', 'October'])} ${1950 + r.below(50)}`,
    'date-of-birth',
  ],
  miles: (r) => [milesNumber(r), 'saltmiles-number'],
  booking: (r) => [`${r.pick(['BS', 'HK', 'MQ'])}${digits(r, 6)}`, 'booking-reference'],
  crew: (r) => [`${1 + r.below(8)}${digits(r, 4)}`, 'crew-number'],
  wheelchair: () => ['rullstol', 'disability'],
  ship: (r) => [r.pick(SHIPS), ''],
  port: (r) => [r.pick(PORTS), ''],
  invoice: (r) => [digits(r, 5), ''],
  postcode: (r) => [digits(r, 5), ''],
  count: (r) => [String(10_000 + r.below(80_000)), ''],
  part: (r) => [`${r.pick(['KV', 'PX', 'RL'])}${digits(r, 6)}`, ''],
  'wrong card': (r) => {
    const right = cardNumber(r);
    return [`${right.slice(0, -1)}${(Number(right.at(-1)) + 1 + r.below(8)) % 10}`, ''];
  },
  version: (r) => [`${r.below(20)}.${r.below(20)}.${r.below(20)}`, ''],
  date: (r) => [`${1 + r.below(28)} ${r.pick(['May', 'July', 'November'])} 2026`, ''],
};

const TEMPLATES: readonly (readonly [name: string, template: string])[] = [
  [
    'Lost property mail',
    'Hello,\nI left my coat on {ship} on {date}. My booking is {booking}.\nYou can reach me at {email} or {phone}.\n\nKind regards\n{person}',
  ],
  [
    'Refund request',
    'Passenger: {person}\nCard number: {card}\nBooking reference: {booking}\nRefund to IBAN {iban}, please.\nOur invoice {invoice} refers.',
  ],
  [
    'Crew roster note',
    'Watch change on {ship}, {date}:\nCrew number {crew} takes over from crew number {crew} in {port}.\nOrder no. {invoice} for safety boots is on its way.',
  ],
  [
    'Car deck report',
    'Berth 4, {port}, {date}.\nPart no. {part} of the ramp failed at {count} cycles.\nReported by {person}, crew no. {crew}. Spare part {part} ordered under purchase order {invoice}.',
  ],
  [
    'Club desk call',
    'Member {person} called about Saltmiles card {miles}.\nShe gave her date of birth as {birth}.\nCallback on {phone}. Software version {version}.',
  ],
  [
    'Svensk assistans',
    'Hej,\njag heter {person}, personnummer {personnummer}, och behöver {wheelchair} i {port} den {date}.\nMvh, {email}',
  ],
  [
    'Dansk henvendelse',
    'Kære rederi\nMit CPR-nr. er {cpr}, og jeg har glemt min taske på {ship}.\nRing til mig på {phone}.\nVenlig hilsen\n{person}',
  ],
  [
    'Deutsche Anfrage',
    'Sehr geehrte Damen und Herren,\nmeine Buchungsnummer lautet {booking}. Bitte erstatten Sie auf die Karte {card}.\nMit freundlichen Grüßen\n{person}\nVorgang {postcode}',
  ],
  [
    'Terminal printout',
    'Receipt {wrong card}\nTill version {version}, {count} tickets sold, {date}.\nPart {part} of the printer was changed.',
  ],
  [
    'Payroll note',
    'Staff number {crew}: salary to IBAN {iban} from {date}.\nPersonnel no. {crew}: no change.\nCost centre {invoice}, quantity {count}.',
  ],
  [
    'Freight list',
    'Invoice {invoice}; consignment {count} kg; ship {ship}; purchase order {invoice}.\nDriver: {person}, phone {phone}.\nTrailer part {part}.',
  ],
  [
    'Club statement',
    'Saltmiles {miles} stands at {count} miles.\nWritten to {email}. Reference SM-{postcode} is our own.',
  ],
];
