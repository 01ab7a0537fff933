import type { Random } from '../../random.ts';
import { INCIDENT_FORM } from '../detectors.ts';
import { demoCard, demoIban, demoPerson, digits, two, type DemoPerson } from './person.ts';

export const SHIPS = ['MS Hale', 'MS Brindle', 'MS Corrie', 'MS Sandvik Bay', 'MS Ottermere'] as const;
export const PORTS = ['Halmsund', 'Østervig', 'Kaltenhagen', 'Marrow Quay'] as const;

export type Rows = readonly (readonly string[])[];

/** A list of a table with a title above it. */
export interface Table {
  readonly title: string;
  readonly rows: Rows;
}

const HEALTH = [
  'uses a wheelchair, needs a cabin near the lift',
  'insulin in the fridge, type 1 diabetes',
  'severe peanut allergy, carries adrenaline',
  'epilepsy, must not be alone',
  'dialysis on Mondays, letter from the hospital',
  'pregnant, 30th week',
];
const PLAIN = [
  'travels with a dog',
  'late boarding',
  'vegetarian meal',
  'group leader',
  'cabin near the stairs',
];

/** `health`: how many in a hundred have a note about it. */
export function manifest(random: Random, ship: string, day: string, size: number, health: number): Table {
  const [from, to] = [random.pick(PORTS), random.pick(PORTS)];
  return {
    title: `Boarding manifest ${ship}, ${from} to ${to}, ${day}`,
    rows: [
      ['No.', 'Name', 'Date of birth', 'Nationality', 'Passport no.', 'Cabin', 'Remarks'],
      ...Array.from({ length: size }, (_, i) => {
        const p = demoPerson(random, [1, 86]);
        const remark =
          random.below(100) < health ? random.pick(HEALTH) : random.chance(0.1) ? random.pick(PLAIN) : '';
        return [
          String(i + 1),
          p.name,
          p.born,
          p.country,
          p.passport,
          String(100 + random.below(800)),
          remark,
        ];
      }),
    ],
  };
}

export function schoolTrip(random: Random, day: string): Table {
  const school = random.pick([
    'Halmsund skola',
    'Østervig Skole',
    'Grundschule Kaltenhagen',
    'Marrow Quay Primary School',
  ]);
  return {
    title: `School trip list, ${school}, ${day}`,
    rows: [
      ['Child', 'Age', 'Class', 'Guardian', 'Telephone of guardian', 'Allergies'],
      ...Array.from({ length: 14 + random.below(14) }, () => {
        const [child, guardian] = [demoPerson(random, [7, 13]), demoPerson(random, [30, 50])];
        return [
          child.name,
          `${7 + random.below(7)} years old`,
          `${1 + random.below(7)}${random.pick(['a', 'b', 'c'])}`,
          `${guardian.given} ${child.family}`,
          guardian.phone,
          random.chance(0.15) ? random.pick(['nut allergy', 'lactose intolerant', 'asthma inhaler']) : '',
        ];
      }),
    ],
  };
}

export function payroll(random: Random, crew: readonly DemoPerson[], month: string): Table {
  return {
    title: `Payroll ${month}, deck and engine`,
    rows: [
      ['Staff number', 'Name', 'National number', 'Account', 'Gross pay', 'Union fee', 'Sick days'],
      ...crew.map((p, i) => [
        `BS${4_100_000 + i * 13}`,
        p.name,
        p.national,
        demoIban(random),
        String(24_000 + random.below(26_000)),
        random.chance(0.6) ? String(410 + random.below(90)) : '',
        random.chance(0.2) ? String(1 + random.below(9)) : '',
      ]),
    ],
  };
}

export function roster(random: Random, crew: readonly DemoPerson[], ship: string, week: string): Table {
  return {
    title: `Watch roster ${ship}, week ${week}`,
    rows: [
      ['Name', 'Rank', 'Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'],
      ...Array.from({ length: 24 }, () => [
        random.pick(crew).name,
        random.pick(['Able seaman', 'Second mate', 'Engineer', 'Steward', 'Cook']),
        ...Array.from({ length: 7 }, () => random.pick(['00-04', '04-08', '08-12', '12-16', 'off'])),
      ]),
    ],
  };
}

export function lostProperty(random: Random, month: string): Rows {
  return [
    ['Found', 'Ship', 'What', 'Owner', 'E-mail', 'Telephone', 'Handed out'],
    ...Array.from({ length: 20 + random.below(30) }, () => {
      const p = demoPerson(random);
      const known = random.chance(0.5);
      return [
        `${month}-${two(1 + random.below(28))}`,
        random.pick(SHIPS),
        random.pick([
          'umbrella',
          'black suitcase',
          'reading glasses',
          'child’s jacket',
          'phone',
          'walking stick',
        ]),
        known ? p.name : '',
        known ? p.email : '',
        known ? p.phone : '',
        random.pick(['yes', 'no']),
      ];
    }),
  ];
}

export function assistanceRequest(random: Random, day: string): string {
  const p = demoPerson(random, [24, 88]);
  return `BRINDLE STRAIT FERRIES
Request for assistance on board

Received by passenger care on ${day}

Passenger: ${p.name}
Born: ${p.born}
Address: ${p.street}, ${p.town}
Telephone: ${p.phone}
E-mail: ${p.email}

Sailing: ${random.pick(PORTS)} to ${random.pick(PORTS)}, ${random.pick(SHIPS)}

What help is needed, and why:
The passenger ${random.pick(HEALTH)}. ${random.pick(['A wheelchair at the gate is asked for.', 'A doctor’s letter is enclosed.', 'Please tell the ship’s nurse.', 'She travels with a carer.'])}

Arranged with: ${random.pick(['the terminal', 'the purser', 'the ship’s nurse'])}`;
}

export function application(random: Random, day: string): string {
  const p = demoPerson(random, [18, 58]);
  return `Application as ${random.pick(['able seaman', 'steward', 'second engineer', 'terminal assistant'])}

${p.name}
${p.street}
${p.town}
${p.email}
${p.phone}

${day}

Dear crew office,

I would like to apply for the position that you advertised. Born on ${p.born}, I have worked ${2 + random.below(15)} years at sea, at last on board a coaster between ${random.pick(PORTS)} and ${random.pick(PORTS)}.

Curriculum vitae
${1990 + random.below(20)} to ${2011 + random.below(10)}: ${random.pick(['deckhand', 'cook', 'motorman', 'purser'])}
Certificates: STCW basic safety, ${random.pick(['engine room', 'bridge watch', 'food handling'])}
${p.country === 'DK' ? `CPR-nr. ${p.national}` : p.country === 'SE' ? `Personnummer ${p.national}` : p.country === 'DE' ? `Steuer-ID ${p.national}` : `National Insurance number ${p.national}`}

Yours sincerely
${p.name}`;
}

export function incident(random: Random, day: string): string {
  const [hurt, witness] = [demoPerson(random), demoPerson(random)];
  const fill: Readonly<Record<string, string>> = {
    'Ship:': random.pick(SHIPS),
    'Berth or position:': `berth ${1 + random.below(6)}, ${random.pick(PORTS)}`,
    'Date and time:': `${day}, ${two(random.below(24))}:${two(random.below(60))}`,
    'Persons involved, with name, age and address:': `${hurt.name}, ${20 + random.below(60)} years, ${hurt.street}, ${hurt.town}`,
    'Injuries, and whether a doctor was called:': random.pick([
      'a fractured wrist, taken to hospital',
      'none',
      'concussion, seen by the doctor on call',
      'a cut on the hand, first aid',
    ]),
    'Witnesses, with telephone numbers:': `${witness.name}, ${witness.phone}`,
  };
  return INCIDENT_FORM.split('\n')
    .map((l) => (fill[l] ? `${l} ${fill[l]}` : l))
    .join('\n');
}

export function invoice(random: Random, number: number, day: string): string {
  const [clerk, driver] = [demoPerson(random), demoPerson(random)];
  const company = random.pick([
    'Nordkran Spedition GmbH',
    'Tarn Haulage Ltd',
    'Fjordfragt ApS',
    'Sundets Åkeri AB',
  ]);
  return `BRINDLE STRAIT FERRIES
Fare invoice no. ${26_000 + number}

To: ${company}
Attn: ${clerk.name}
${clerk.email}

Date of invoice: ${day}
Sailing: ${random.pick(PORTS)} to ${random.pick(PORTS)}, ${random.pick(SHIPS)}
Lorry: ${random.pick(['BD', 'AL', 'KX'])} ${digits(random, 2)} ${digits(random, 3)}
Driver: ${driver.name}

Lane metres 17.0 at 212.00: 3,604.00
Port dues: 118.00
Total payable within 30 days: 3,722.00

Please transfer to ${demoIban(random)}, reference ${26_000 + number}.`;
}

const SMALL_TALK = [
  'The gangway at berth 2 will be painted on Thursday.',
  'Please remember the new timetable from Monday.',
  'The coffee machine in the staff room works again.',
  'Wind warning for tonight: expect delays of up to an hour.',
  'Could you send me the cleaning plan for the lounge?',
];

export interface Mail {
  readonly from: string;
  readonly to: string;
  readonly subject: string;
  readonly body: string;
  readonly attachment?: { readonly name: string; readonly text: string };
}

export function mail(random: Random, terminal: string, day: string): Mail {
  const p = demoPerson(random);
  const desk = `terminal.${terminal}@brindlestrait.example`;
  switch (random.weighted({ passenger: 4, list: 1, talk: 4, card: 1 })) {
    case 'passenger':
      return {
        from: `${p.name} <${p.email}>`,
        to: desk,
        subject: random.pick([
          'Change of booking',
          'Lost on board',
          'Arriving late',
          'Question about the dog',
        ]),
        body: `Hello,\n\nI am booked on ${random.pick(SHIPS)} on ${day}, booking reference BS${digits(random, 6)}. ${random.pick(['My husband uses a wheelchair and we need help at the gate.', 'I left my phone in the lounge.', 'We will be there an hour later.', 'My son has a nut allergy, please tell the kitchen.'])}\n\nYou reach me at ${p.phone}.\n\n${p.name}\n${p.street}, ${p.town}\n`,
      };
    case 'list': {
      const t = manifest(random, random.pick(SHIPS), day, 20 + random.below(30), 6);
      return {
        from: `Lotte Bruun <lotte.bruun@brindlestrait.example>`,
        to: desk,
        subject: `RE: list for ${two(5 + random.below(16))}:40 sailing`,
        body: 'As asked, the list is attached.\n\nLotte\n',
        attachment: { name: 'list.csv', text: t.rows.map((r) => r.join(';')).join('\n') },
      };
    }
    case 'card':
      return {
        from: `${p.name} <${p.email}>`,
        to: desk,
        subject: 'Payment',
        body: `Please take the fare from my card ${demoCard(random)}, expiry 09/28.\n\n${p.name}\n`,
      };
    case 'talk':
      return {
        from: `Tove Lindqvist <tove.lindqvist@brindlestrait.example>`,
        to: desk,
        subject: random.pick(['Notice to all terminals', 'Timetable', 'Weather', 'Berth plan']),
        body: `${random.pick(SMALL_TALK)}\n\nTove\n`,
      };
  }
}
