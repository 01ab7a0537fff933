import type { Mail } from './papers.ts';
import type { DemoPerson } from './person.ts';

/** A passenger who asks the ferry line about their data, with what else there is of them. */
export interface Asker extends DemoPerson {
  readonly id: number;
  readonly member: string;
  readonly bookings: readonly string[];
}

/** A passenger from Sweden, who asks what is held of her. */
export const MAJA: Asker = {
  ...{
    id: 6001,
    given: 'Maja',
    family: 'Holmqvist',
    name: 'Maja Holmqvist',
    country: 'SE',
    born: '1984-03-09',
  },
  ...{
    email: 'maja.holmqvist@post.example',
    phone: '+46 70 1740608',
    passport: 'P48291077',
    national: '840309-2386',
  },
  ...{
    street: 'Hamngatan 14',
    town: '302 44 Halmsund',
    member: 'SL0006001',
    bookings: ['BS482910', 'BS482977', 'BS483104'],
  },
};

/** Another of the same name. */
export const OTHER_MAJA: Asker = {
  ...{
    id: 6002,
    given: 'Maja',
    family: 'Holmqvist',
    name: 'Maja Holmqvist',
    country: 'SE',
    born: '1962-07-21',
  },
  ...{
    email: 'maja.h62@inbox.example',
    phone: '+46 70 5521309',
    passport: 'K77120483',
    national: '620721-4482',
  },
  ...{ street: 'Skolvägen 3', town: '262 33 Ängelhamn', member: 'SL0006002', bookings: ['BS301188'] },
};

/** A passenger from Germany, who asks to be deleted. */
export const JONAS: Asker = {
  ...{
    id: 6003,
    given: 'Jonas',
    family: 'Feldkamp',
    name: 'Jonas Feldkamp',
    country: 'DE',
    born: '1991-11-02',
  },
  ...{ email: 'jonas.feldkamp@mail.example', phone: '+49 171 40277315', passport: 'C20917743', national: '' },
  ...{ street: 'Deichweg 8', town: '26427 Dornsiel', member: 'SL0006003', bookings: ['BS471002'] },
};

export const ASKERS = [MAJA, OTHER_MAJA, JONAS] as const;

/** A row of a boarding manifest. */
export function manifestRow(a: DemoPerson, number: number, remark = ''): readonly string[] {
  return [String(number), a.name, a.born, a.country, a.passport, String(400 + number), remark];
}

const clerk = 'Lotte Bruun <lotte.bruun@brindlestrait.example>';
const from = (a: DemoPerson) => `${a.name} <${a.email}>`;

/** What was written by and about them: to which mailbox, and how many days ago. */
export const ASKER_MAIL: readonly { readonly box: string; readonly ago: number; readonly mail: Mail }[] = [
  {
    ...{ box: 'mail/halmsund', ago: 151 },
    mail: {
      ...{
        from: from(MAJA),
        to: 'terminal.halmsund@brindlestrait.example',
        subject: 'Seats together, 3 July',
      },
      body: `Hello,\n\nbooking BS482910. My neighbour Per Alm travels with us. Per Alm uses a wheelchair, please meet us at the gate. You reach him at 0701 740 605.\n\nMaja Holmqvist\nHamngatan 14, 302 44 Halmsund\n`,
    },
  },
  {
    ...{ box: 'letters/care', ago: 150 },
    mail: {
      ...{ from: clerk, to: MAJA.email, subject: 'RE: Seats together, 3 July' },
      body: `Dear Ms Holmqvist,\n\nyou and Per Alm are at the same table. Mr Alm's wheelchair goes with 0701 740 605 to the ramp. Your booking is BS482910.\n\nLotte Bruun\nPassenger care\n`,
    },
  },
  {
    ...{ box: 'letters/care', ago: 96 },
    mail: {
      ...{ from: from(MAJA), to: 'care@brindlestrait.example', subject: 'Complaint, cabin 412' },
      body: `Hello,\n\nthe cabin was cold on BS482977. The steward Emil Frandsen was rude to us. I ask for my fare back, to the card I paid with.\n\nMaja Holmqvist\n+46 70 1740608\n`,
    },
  },
  {
    ...{ box: 'letters/care', ago: 90 },
    mail: {
      ...{
        from: 'Helga Lindehall <helga@lindehall-counsel.example>',
        to: 'care@brindlestrait.example',
        subject: 'Privileged: claim of Ms Holmqvist',
      },
      body: `Privileged and confidential.\n\nAs to the claim of Maja Holmqvist (maja.holmqvist@post.example, BS482977) we advise to offer half of the fare. Do not answer before we spoke.\n\nHelga Lindehall, advocate\n`,
    },
  },
  {
    ...{ box: 'letters/care', ago: 41 },
    mail: {
      ...{ from: from(JONAS), to: 'care@brindlestrait.example', subject: 'Lost jacket' },
      body: `Hello,\n\nI left a jacket on MS Corrie, booking BS471002.\n\nJonas Feldkamp\n`,
    },
  },
];

/** Letters to the privacy office that nobody decided about. */
export const PRIVACY_MAIL: readonly { readonly ago: number; readonly mail: Mail }[] = [
  {
    ago: 3,
    mail: {
      ...{
        from: 'Rachel Whitlock <rachel.whitlock77@inbox.example>',
        to: 'privacy@brindlestrait.example',
        subject: 'Subject access',
      },
      body: `Dear Sir or Madam,\n\nplease send me a copy of all the data you hold about me, under the UK GDPR. I sailed from Marrow Quay in May.\n\nRachel Whitlock\n7 Mill Street, Tarnmouth NE30 4BY\n`,
    },
  },
  {
    ago: 1,
    mail: {
      ...{
        from: 'Mads Kjær <mads.kjaer204@post.example>',
        to: 'privacy@brindlestrait.example',
        subject: 'Slet mig',
      },
      body: `Hej\n\nI bedes slette alt, hvad I har om mig i Saltmiles.\n\nMads Kjær\n`,
    },
  },
  {
    ago: 1,
    mail: {
      ...{
        from: 'Tagboard Sales <offers@tagboard-sales.example>',
        to: 'privacy@brindlestrait.example',
        subject: 'Your cookie banner',
      },
      body: `Hello, we looked at your site and would like to offer you a call.\n`,
    },
  },
];

export const ASSISTANCE = `BRINDLE STRAIT FERRIES
Request for assistance on board

Received by passenger care

Passenger: ${MAJA.name}
Born: ${MAJA.born}
Address: ${MAJA.street}, ${MAJA.town}
Telephone: ${MAJA.phone}
E-mail: ${MAJA.email}

Sailing: Halmsund to Østervig, MS Hale

What help is needed, and why:
The passenger travels with Per Alm, who uses a wheelchair and needs a cabin near the lift. Please tell the ship's nurse, Astrid Nordin.

Arranged with: the terminal`;
