import type { VendorContent } from '../../src/core/cases/vendors/vendor.ts';
import type { VendorEventKind } from '../../src/core/cases/vendors/vendor-act.ts';

export interface DemoVendor {
  readonly name: string;
  readonly service: string;
  readonly owner: string;
  readonly country: string;
  readonly stage: 'new' | 'asked' | 'answered' | 'approved' | 'leaving';
  readonly activities?: readonly string[];
  readonly systems?: readonly string[];
  readonly sites?: readonly string[];
  readonly hosts?: readonly string[];
  readonly role?: VendorContent['role'];
  readonly access?: VendorContent['access'];
  readonly safeguard?: VendorContent['safeguard'];
  readonly vital?: boolean;
  readonly contact?: string;
  readonly subprocessors?: readonly (readonly [name: string, country: string, does: string])[];
  /** With the days until it ends. */
  readonly certificates?: readonly (readonly [name: string, days: number])[];
  /** Days until its contract ends. */
  readonly ends?: number;
  /** Questions that it answers with no. */
  readonly lacks?: readonly string[];
  readonly contract?: boolean;
  /** One of its trackers came after it was approved. */
  readonly newTracker?: boolean;
  readonly events?: readonly (readonly [
    kind: VendorEventKind,
    daysAgo: number,
    words: string,
    seen: string,
  ])[];
  readonly by?: string;
}

/** Those who work for the ferry line. */
export const VENDORS: readonly DemoVendor[] = [
  {
    ...{
      name: 'Wavemeter',
      service: 'Measures which pages are read.',
      owner: 'Marketing director',
      country: 'US',
      stage: 'approved',
    },
    ...{
      activities: ['Measuring websites'],
      hosts: ['wavemeter.localhost'],
      safeguard: 'certification',
      contact: 'privacy@wavemeter.example',
    },
    ...{ newTracker: true, contract: true, by: 'Priya Nand' },
  },
  {
    ...{
      name: 'Adbuoy',
      service: 'Shows our advertisements elsewhere.',
      owner: 'Marketing director',
      country: 'US',
      stage: 'answered',
    },
    ...{
      activities: ['Advertising'],
      hosts: ['adbuoy.localhost'],
      role: 'joint',
      contact: 'dpo@adbuoy.example',
      lacks: ['instructions', 'third-countries'],
      by: 'Priya Nand',
    },
  },
  {
    ...{
      name: 'Talkdeck',
      service: 'A chat on our pages.',
      owner: 'Head of care',
      country: 'DK',
      stage: 'asked',
    },
    ...{
      activities: ['Answering mail'],
      hosts: ['talkdeck.localhost'],
      contact: 'privacy@talkdeck.example',
      by: 'Priya Nand',
    },
  },
  {
    ...{
      name: 'Mapquay',
      service: 'Maps of ports.',
      owner: 'Marketing director',
      country: 'NO',
      stage: 'approved',
      role: 'controller',
    },
    ...{
      hosts: ['mapquay.localhost'],
      activities: ['Measuring websites'],
      contact: 'hello@mapquay.example',
      by: 'Priya Nand',
    },
  },
  {
    ...{
      name: 'Paylock',
      service: 'Takes payments by card.',
      owner: 'Chief financial officer',
      country: 'SE',
      stage: 'approved',
      role: 'controller',
      vital: true,
    },
    ...{
      activities: ['Selling crossings'],
      hosts: ['paylock.localhost'],
      certificates: [['PCI DSS', 24]],
      contact: 'dpo@paylock.example',
    },
  },
  {
    ...{
      name: 'Streamhull',
      service: 'Plays our videos.',
      owner: 'Marketing director',
      country: 'US',
      stage: 'leaving',
      hosts: ['streamhull.localhost'],
    },
    ...{
      activities: ['Measuring websites'],
      safeguard: 'standard clauses',
      contact: 'legal@streamhull.example',
      by: 'Priya Nand',
    },
  },
  {
    ...{
      name: 'Seatable ApS',
      service: 'Runs the booking system.',
      owner: 'Commercial director',
      country: 'DK',
      stage: 'approved',
      access: 'hosts',
      vital: true,
    },
    ...{
      activities: ['Selling crossings'],
      contact: 'dpo@seatable.example',
      contract: true,
      certificates: [['ISO/IEC 27001', 400]],
    },
    ...{ subprocessors: [['Skerry Hosting AB', 'SE', 'servers']], ends: 85 },
    events: [
      [
        'breach',
        1,
        'Somebody read the mail of one of their staff; whether ours is in it they do not know yet',
        '',
      ],
    ],
  },
  {
    ...{
      name: 'Clubhouse Software Ltd',
      service: 'Runs the loyalty club.',
      owner: 'Marketing director',
      country: 'US',
      stage: 'answered',
      access: 'hosts',
    },
    ...{
      activities: ['Saltmiles club'],
      contact: 'privacy@clubhouse.example',
      contract: true,
      lacks: ['told', 'at-rest'],
      by: 'Priya Nand',
    },
  },
  {
    ...{
      name: 'Lønhuset A/S',
      service: 'Pays the staff.',
      owner: 'Chief financial officer',
      country: 'DK',
      stage: 'approved',
      access: 'hosts',
      vital: true,
    },
    ...{
      activities: ['Paying staff'],
      contact: 'gdpr@lonhuset.example',
      contract: true,
      certificates: [['ISAE 3402', -9]],
      by: 'Osei Darko',
    },
  },
  {
    ...{
      name: 'Lookwell Vision AB',
      service: 'Cameras of the car decks.',
      owner: 'Security officer',
      country: 'SE',
      stage: 'approved',
      access: 'administers',
    },
    ...{ activities: ['Car-deck cameras'], contact: 'privacy@lookwell.example', contract: true },
  },
  {
    ...{
      name: 'Kühlhaus Archiv GmbH',
      service: 'Keeps what has to be kept.',
      owner: 'Head of records',
      country: 'DE',
      stage: 'approved',
      access: 'hosts',
    },
    ...{ activities: ['Archive'], contact: 'datenschutz@kuehlhaus.example', ends: 420 },
  },
  {
    ...{
      name: 'Harbour Mutual',
      service: 'Insures passengers and ships.',
      owner: 'Port captain',
      country: 'GB',
      stage: 'approved',
      role: 'controller',
    },
    ...{ activities: ['Incident reports'], contact: 'dpo@harbourmutual.example' },
  },
  {
    ...{
      name: 'Skerry Hosting AB',
      service: 'Servers for shares and mail.',
      owner: 'Head of IT',
      country: 'SE',
      stage: 'approved',
      access: 'administers',
      vital: true,
    },
    ...{
      activities: ['Staff portal', 'Answering mail'],
      contact: 'dpo@skerry.example',
      certificates: [['ISO/IEC 27001', 210]],
    },
  },
  {
    ...{
      name: 'Tidewater Mail ApS',
      service: 'Sends newsletters.',
      owner: 'Marketing director',
      country: 'DK',
      stage: 'approved',
      access: 'hosts',
      by: 'Priya Nand',
    },
    ...{
      activities: ['Newsletters'],
      contact: 'dpo@tidewater.example',
      subprocessors: [['Cloudbank Inc', 'US', 'sends mail']],
      safeguard: 'standard clauses',
    },
  },
  {
    ...{
      name: 'Northwick Print',
      service: 'Prints tickets and cards of members.',
      owner: 'Marketing director',
      country: 'GB',
      stage: 'asked',
    },
    ...{ activities: ['Saltmiles club'], contact: 'info@northwick.example' },
  },
  {
    ...{
      name: 'Pilotage IT Support',
      service: 'Helps staff with their computers.',
      owner: 'Head of IT',
      country: 'IN',
      stage: 'answered',
      access: 'administers',
    },
    ...{
      activities: ['Staff portal'],
      contact: 'privacy@pilotage.example',
      safeguard: 'standard clauses',
      lacks: ['two-factors', 'leavers'],
    },
  },
  {
    ...{
      name: 'Gull & Sons Cleaning',
      service: 'Cleans terminals and offices.',
      owner: 'Port captain',
      country: 'DK',
      stage: 'approved',
      role: 'none',
      access: 'none',
    },
    ...{ contact: 'office@gullandsons.example' },
  },
  {
    ...{
      name: 'Marrow Legal LLP',
      service: 'Advises on claims.',
      owner: 'Port captain',
      country: 'GB',
      stage: 'approved',
      role: 'controller',
      activities: ['Incident reports'],
    },
    ...{
      contact: 'privacy@marrowlegal.example',
      events: [['news', 30, 'They merged with another firm', 'The same people work for us.']],
    },
  },
  {
    ...{
      name: 'Fjordtel',
      service: 'Wi-Fi on board.',
      owner: 'Head of IT',
      country: 'NO',
      stage: 'approved',
      access: 'administers',
      activities: ['Wi-Fi on board'],
    },
    ...{ contact: 'personvern@fjordtel.example', ends: 200 },
  },
  {
    ...{
      name: 'Kestrel Text ApS',
      service: 'A model that sorts mail.',
      owner: 'Head of IT',
      country: 'DK',
      stage: 'new',
      activities: ['Answering mail'],
    },
  },
];
