import type { Vendor, VendorList, VendorListItem } from './vendor-list.ts';

const item = (id: number, name: string, description: string): [string, VendorListItem] => [
  String(id),
  { id, name, description, illustrations: [] },
];

const DAY = 86_400;
const vendor = (
  id: number,
  name: string,
  host: string,
  bases: Pick<Vendor, 'purposes' | 'legIntPurposes'> & Partial<Vendor>,
): [string, Vendor] => [
  String(id),
  {
    ...{ id, name, flexiblePurposes: [], specialPurposes: [], features: [], specialFeatures: [] },
    ...{ usesCookies: true, cookieMaxAgeSeconds: 180 * DAY, usesNonCookieAccess: false },
    urls: [
      { langId: 'en', privacy: `https://${host}/privacy`, legIntClaim: `https://${host}/privacy#interest` },
    ],
    dataRetention: { stdRetention: 180, purposes: {}, specialPurposes: {} },
    dataDeclaration: [1, 2, 6],
    ...bases,
  },
];

/**
 * What ships, so that everything can be tried without a network: purposes and features under the names and numbers of
 * the standard, with texts in short, and vendors that do not exist. An organisation takes in the published list.
 */
export const MADE_UP_LIST: VendorList = {
  gvlSpecificationVersion: 3,
  vendorListVersion: 1,
  tcfPolicyVersion: 4,
  lastUpdated: '2026-01-15T16:00:00Z',
  purposes: Object.fromEntries([
    item(
      1,
      'Store and/or access information on a device',
      'Cookies, identifiers and the like can be kept on your device or read from it.',
    ),
    item(
      2,
      'Use limited data to select advertising',
      'Advertising can be chosen by the page you are on, where you are roughly, and what was shown to you before.',
    ),
    item(
      3,
      'Create profiles for personalised advertising',
      'What you do here can be kept and put together into a profile, so that advertising fits you.',
    ),
    item(
      4,
      'Use profiles to select personalised advertising',
      'Advertising can be chosen by a profile of you.',
    ),
    item(
      5,
      'Create profiles to personalise content',
      'What you do here can be kept and put together into a profile, so that content fits you.',
    ),
    item(6, 'Use profiles to select personalised content', 'Content can be chosen by a profile of you.'),
    item(
      7,
      'Measure advertising performance',
      'It can be measured whether advertising was seen and what came of it.',
    ),
    item(
      8,
      'Measure content performance',
      'It can be measured whether content was seen and what came of it.',
    ),
    item(
      9,
      'Understand audiences through statistics or combinations of data from different sources',
      'Reports can be made of who visits.',
    ),
    item(10, 'Develop and improve services', 'What you do here can help to make products better.'),
    item(
      11,
      'Use limited data to select content',
      'Content can be chosen by the page you are on, where you are roughly, and what was shown to you before.',
    ),
  ]),
  specialPurposes: Object.fromEntries([
    item(
      1,
      'Ensure security, prevent and detect fraud, and fix errors',
      'Data can be used to find misuse and faults.',
    ),
    item(2, 'Deliver and present advertising and content', 'Data can be used to send what is shown.'),
  ]),
  features: Object.fromEntries([
    item(
      1,
      'Match and combine data from other data sources',
      'Data about you from elsewhere can be put to it.',
    ),
    item(2, 'Link different devices', 'Your devices can be taken for yours.'),
    item(
      3,
      'Identify devices based on information transmitted automatically',
      'Your device can be told from others by what it sends.',
    ),
  ]),
  specialFeatures: Object.fromEntries([
    item(1, 'Use precise geolocation data', 'Where you are can be used to within less than 500 metres.'),
    item(
      2,
      'Actively scan device characteristics for identification',
      'Your device can be asked for what tells it from others.',
    ),
  ]),
  dataCategories: Object.fromEntries([
    item(1, 'IP addresses', 'Your IP address.'),
    item(2, 'Device characteristics', 'What your device is like.'),
    item(6, 'Browsing and interaction data', 'What you do on the site.'),
  ]),
  vendors: Object.fromEntries([
    vendor(2, 'Lanternfish Ads', 'lanternfish.example', {
      purposes: [1, 2, 3, 4],
      legIntPurposes: [7, 10],
      flexiblePurposes: [2, 7],
      specialPurposes: [1, 2],
      features: [3],
      specialFeatures: [1],
    }),
    vendor(5, 'Wavemeter Audience', 'wavemeter.example', {
      purposes: [1, 8, 9],
      legIntPurposes: [],
      specialPurposes: [1],
    }),
    vendor(8, 'Gull & Gannet Exchange', 'gullgannet.example', {
      purposes: [1, 3, 4],
      legIntPurposes: [2, 7, 9],
      flexiblePurposes: [2, 7, 9],
      specialPurposes: [1, 2],
      features: [1, 2, 3],
      specialFeatures: [1, 2],
      cookieMaxAgeSeconds: 395 * DAY,
    }),
    vendor(13, 'Tidepool Reach', 'tidepool.example', {
      purposes: [1, 2, 7],
      legIntPurposes: [],
      flexiblePurposes: [2, 7],
      specialPurposes: [2],
    }),
    vendor(21, 'Seastack Content', 'seastack.example', {
      purposes: [1, 5, 6],
      legIntPurposes: [8, 11],
      flexiblePurposes: [8, 11],
      specialPurposes: [1],
      usesNonCookieAccess: true,
    }),
    vendor(34, 'Kelpline Measurement', 'kelpline.example', {
      purposes: [],
      legIntPurposes: [7, 8, 9],
      flexiblePurposes: [],
      specialPurposes: [1],
      usesCookies: false,
      cookieMaxAgeSeconds: null,
    }),
  ]),
};
