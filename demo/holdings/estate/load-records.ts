import { NEW_ACTIVITY, type ActivityContent } from '../../../src/core/holdings/records/activity.ts';
import { addActivity } from '../../../src/server/holdings/records/activities.ts';
import type { Demo } from '../../demo.ts';
import { line } from '../../ledger.ts';

type Basis = ActivityContent['basis'];
type Special = ActivityContent['special'];

interface Recorded {
  readonly name: string;
  readonly purpose: string;
  readonly system: readonly string[];
  readonly people: readonly string[];
  readonly data: readonly string[];
  readonly basis?: Basis;
  readonly special?: Special;
  readonly kept: string;
  readonly owner: string;
  /** Days from today. */
  readonly review?: number;
  readonly given?: ActivityContent['recipients'];
}

const NAMES = ['person-name', 'email'];
const CREW = ['crew'];
const PASSENGERS = ['passengers'];

/** What the ferry line does with personal data; some of it not as the estate says. */
const ACTIVITIES: readonly Recorded[] = [
  {
    name: 'Selling crossings',
    purpose: 'sell and change bookings',
    system: ['Booking'],
    people: PASSENGERS,
    data: [...NAMES, 'phone', 'date-of-birth', 'passport'],
    kept: '5 years after the crossing, for the accounts',
    owner: 'Commercial director',
    given: [{ name: 'Seatable ApS', country: 'DK', safeguard: 'none' }],
  },
  {
    name: 'Boarding and manifests',
    purpose: 'count and know who is on board, as the law of the sea asks',
    system: ['Port operations'],
    people: PASSENGERS,
    data: ['person-name', 'date-of-birth', 'passport'],
    basis: 'legal obligation',
    kept: '30 days after arrival',
    owner: 'Port captain',
    review: -12,
    given: [{ name: 'Maritime authority', country: 'SE', safeguard: 'none' }],
  },
  {
    name: 'Assistance on board',
    purpose: 'help passengers who need it',
    system: ['Passenger care'],
    people: PASSENGERS,
    data: [...NAMES, 'phone', 'postal-address', 'health-condition', 'disability'],
    special: 'explicit consent',
    basis: 'consent',
    kept: '3 months after the crossing',
    owner: 'Head of care',
  },
  {
    name: 'School trips',
    purpose: 'carry classes and reach their guardians',
    system: ['Passenger care'],
    people: ['children', 'guardians'],
    data: ['person-name', 'phone', 'child'],
    kept: '1 month after the trip',
    owner: 'Head of care',
  },
  {
    name: 'Incident reports',
    purpose: 'record accidents and answer insurers',
    system: ['Port operations'],
    people: [...PASSENGERS, 'crew'],
    data: ['person-name', 'postal-address', 'phone'],
    basis: 'legal obligation',
    kept: '10 years',
    owner: 'Port captain',
    given: [{ name: 'Harbour Mutual', country: 'GB', safeguard: 'none' }],
  },
  {
    name: 'Lost property',
    purpose: 'give things back',
    system: ['Port operations'],
    people: PASSENGERS,
    data: ['person-name', 'email', 'phone'],
    basis: 'legitimate interests',
    kept: '1 year',
    owner: 'Port captain',
  },
  {
    name: 'Saltmiles club',
    purpose: 'run the loyalty club',
    system: ['Saltmiles'],
    people: ['members'],
    data: [...NAMES, 'postal-address', 'date-of-birth'],
    kept: 'as long as somebody is a member, and 1 year',
    owner: 'Marketing director',
    given: [{ name: 'Clubhouse Software Ltd', country: 'US', safeguard: 'none' }],
  },
  {
    name: 'Newsletters',
    purpose: 'write to those who asked for it',
    system: ['Saltmiles'],
    people: ['members'],
    data: NAMES,
    basis: 'consent',
    kept: 'until it is withdrawn',
    owner: 'Marketing director',
  },
  {
    name: 'Measuring websites',
    purpose: 'know which pages are read',
    system: ['Websites'],
    people: ['visitors'],
    data: ['ipv4', 'device-id'],
    basis: 'consent',
    kept: '13 months',
    owner: 'Marketing director',
    given: [{ name: 'Wavemeter', country: 'US', safeguard: 'certification' }],
  },
  {
    name: 'Advertising',
    purpose: 'show advertisements elsewhere',
    system: ['Websites'],
    people: ['visitors'],
    data: ['device-id'],
    basis: 'consent',
    kept: '3 months',
    owner: 'Marketing director',
    given: [{ name: 'Adbuoy', country: 'US', safeguard: 'none' }],
  },
  {
    name: 'Answering mail',
    purpose: 'answer passengers at the terminals',
    system: ['Terminal mail'],
    people: PASSENGERS,
    data: [...NAMES, 'phone', 'postal-address'],
    basis: 'legitimate interests',
    kept: '1 year',
    owner: 'Port captain',
  },
  {
    name: 'Crew certificates',
    purpose: 'know who is fit for duty',
    system: ['Crew office'],
    people: CREW,
    data: ['person-name', 'date-of-birth', 'health-condition', 'sick-leave'],
    basis: 'legal obligation',
    special: 'employment law',
    kept: '3 years after they leave',
    owner: 'Crewing manager',
  },
  {
    name: 'Rosters',
    purpose: 'plan watches',
    system: ['Crew office'],
    people: CREW,
    data: ['person-name'],
    kept: '2 years',
    owner: 'Crewing manager',
  },
  {
    name: 'Hiring',
    purpose: 'choose new crew',
    system: ['Crew office'],
    people: ['applicants'],
    data: [...NAMES, 'phone', 'postal-address', 'date-of-birth'],
    basis: 'legitimate interests',
    kept: '6 months after the answer',
    owner: 'Crewing manager',
    review: -3,
  },
  {
    name: 'Paying staff',
    purpose: 'pay and tax all staff',
    system: ['Payroll'],
    people: ['staff'],
    data: ['person-name', 'dk-cpr', 'iban', 'trade-union'],
    basis: 'legal obligation',
    kept: '5 years',
    owner: 'Chief financial officer',
    given: [{ name: 'Lønhuset A/S', country: 'DK', safeguard: 'none' }],
  },
  {
    name: 'Charging hauliers',
    purpose: 'invoice freight',
    system: ['Freight', 'Accounts'],
    people: ['drivers', 'contacts of hauliers'],
    data: [...NAMES, 'iban'],
    kept: '5 years',
    owner: 'Freight manager',
  },
  {
    name: 'Car-deck cameras',
    purpose: 'protect people and cars',
    system: ['Car-deck cameras'],
    people: PASSENGERS,
    data: ['dk-plate', 'se-plate', 'de-plate'],
    basis: 'legitimate interests',
    kept: '14 days',
    owner: 'Security officer',
    given: [{ name: 'Lookwell Vision AB', country: 'SE', safeguard: 'none' }],
  },
  {
    name: 'Wi-Fi on board',
    purpose: 'give passengers access to the network',
    system: ['Ship Wi-Fi'],
    people: PASSENGERS,
    data: ['email', 'mac-address'],
    kept: '30 days',
    owner: 'Head of IT',
  },
  {
    name: 'Staff portal',
    purpose: 'tell staff what they need to know',
    system: ['Staff portal'],
    people: ['staff'],
    data: NAMES,
    kept: 'as long as they work here',
    owner: 'Head of IT',
  },
  {
    name: 'Keeping the accounts',
    purpose: 'keep books as the law asks',
    system: ['Accounts'],
    people: ['customers', 'suppliers'],
    data: ['person-name', 'iban'],
    basis: 'legal obligation',
    kept: '5 years',
    owner: 'Chief financial officer',
  },
  {
    name: 'Archive',
    purpose: 'keep what has to be kept',
    system: ['Archive'],
    people: [...PASSENGERS, 'members'],
    data: [...NAMES, 'date-of-birth', 'passport'],
    basis: 'legal obligation',
    kept: 'as the schedule says',
    owner: 'Head of records',
    given: [{ name: 'Kühlhaus Archiv GmbH', country: 'DE', safeguard: 'none' }],
  },
  {
    name: 'Requests of people',
    purpose: 'answer those who ask for their data',
    system: ['Passenger care'],
    people: ['anybody'],
    data: NAMES,
    basis: 'legal obligation',
    kept: '3 years',
    owner: 'Privacy officer',
  },
  {
    name: 'Crew health on shore',
    purpose: 'reach doctors in port',
    system: [],
    people: CREW,
    data: ['person-name', 'health-condition'],
    kept: '1 year',
    owner: 'Crewing manager',
  },
];

export async function loadRecords(demo: Demo, systems: ReadonlyMap<string, number>): Promise<void> {
  const { tx, now, lines } = demo;
  const records = demo.person('Sanne Holt');
  for (const a of ACTIVITIES) {
    const content: ActivityContent = {
      ...NEW_ACTIVITY,
      name: a.name,
      purpose: a.purpose,
      basis: a.basis ?? 'contract',
      special: a.special ?? 'none',
      people: [...a.people],
      data: [...a.data],
      recipients: [...(a.given ?? [])],
      retention: a.kept,
      measures: 'Access by role, encrypted disks, a yearly test of the backup',
      systems: a.system.flatMap((s) => systems.get(s) ?? []).map(String),
      owner: a.owner,
      review: new Date(now.getTime() + (a.review ?? 180) * 86_400_000).toISOString().slice(0, 10),
    };
    const id = await addActivity(tx, now, records, content);
    lines.push(line(demo.at(15), records, 'activity.add', 'activity', id, { name: a.name }));
  }
}
