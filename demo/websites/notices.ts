import type { Stage } from '../../src/core/rules/rule.ts';
import { firstNotice, type NoticeContent } from '../../src/core/websites/notice/notice.ts';

interface DemoVersion {
  readonly daysAgo: number;
  readonly content: NoticeContent;
}

export interface DemoSite {
  /** Host of the stand-in, without port. */
  readonly host: string;
  readonly name: string;
  readonly versions: readonly DemoVersion[];
  readonly draft: NoticeContent;
  readonly stage: (at: (daysAgo: number) => string) => Stage;
  /** Choices within 90 days. */
  readonly choices: number;
  readonly regions: Readonly<
    Record<
      string,
      { readonly weight: number; readonly allows: number; readonly languages: readonly string[] }
    >
  >;
}

const first = firstNotice();
const navy = { background: '#fbfcfd', text: '#14232d', button: '#0f3b57', buttonText: '#ffffff' };
const booking3: NoticeContent = { ...first, colours: navy };
const booking1: NoticeContent = { ...first, askAgainMonths: 12, purposes: ['measurement', 'advertising'] };
const booking2: NoticeContent = { ...booking1, purposes: first.purposes };
const english: NoticeContent = { ...first, languages: ['en'], colours: { ...navy, button: '#5a2a4f' } };

const NORDIC = {
  DK: { weight: 46, allows: 0.58, languages: ['da', 'da', 'da', 'en'] },
  SE: { weight: 27, allows: 0.55, languages: ['en'] },
  DE: { weight: 19, allows: 0.41, languages: ['en'] },
  GB: { weight: 8, allows: 0.63, languages: ['en'] },
};

export const DEMO_SITES: readonly DemoSite[] = [
  {
    host: 'brindlestrait.localhost',
    name: 'Booking and sailings',
    versions: [
      { daysAgo: 89, content: booking1 },
      { daysAgo: 47, content: booking2 },
      { daysAgo: 11, content: booking3 },
    ],
    draft: booking3,
    stage: (at) => ({ state: 'in force', version: 3, since: at(11) }),
    choices: 24_000,
    regions: NORDIC,
  },
  {
    host: 'crew.brindlestrait.localhost',
    name: 'Staff portal',
    versions: [{ daysAgo: 60, content: { ...first, purposes: ['preferences'], colours: navy } }],
    draft: { ...first, purposes: ['preferences'], colours: navy },
    stage: (at) => ({ state: 'in force', version: 1, since: at(60) }),
    choices: 560,
    regions: { DK: NORDIC.DK, SE: NORDIC.SE },
  },
  {
    host: 'cruises.brindlestrait.localhost',
    name: 'Cruises',
    versions: [
      { daysAgo: 80, content: { ...english, askAgainMonths: 12 } },
      { daysAgo: 35, content: english },
      { daysAgo: 4, content: { ...english, purposes: ['measurement', 'advertising'] } },
    ],
    draft: { ...english, purposes: ['measurement', 'advertising'] },
    stage: (at) => ({ state: 'rehearsing', version: 3, since: at(4), over: { version: 2, since: at(35) } }),
    choices: 9_000,
    regions: {
      GB: { weight: 30, allows: 0.6, languages: ['en'] },
      DK: NORDIC.DK,
      'US-CA': { weight: 24, allows: 0.88, languages: ['en'] },
    },
  },
  {
    host: 'freight.brindlestrait.localhost',
    name: 'Freight',
    versions: [],
    draft: first,
    stage: () => ({ state: 'draft' }),
    choices: 0,
    regions: {},
  },
];
