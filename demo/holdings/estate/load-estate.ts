import type { RowTemplate } from '../../../src/core/holdings/sources/row-template.ts';
import { join } from 'node:path';
import {
  USUAL_SOURCE,
  type SourceContent,
  type SourceAddress,
  type SystemContent,
} from '../../../src/core/holdings/sources/source.ts';
import { USUAL_SURVEY } from '../../../src/core/holdings/surveys/survey.ts';
import { parseLens } from '../../../src/core/lens/lens-text.ts';
import type { Schedule } from '../../../src/core/schedule/schedule.ts';
import { addLens } from '../../../src/server/holdings/lenses/lenses.ts';
import { insertSource } from '../../../src/server/holdings/sources/sources.ts';
import { addSystem } from '../../../src/server/holdings/sources/systems.ts';
import { addSurvey } from '../../../src/server/holdings/surveys/surveys.ts';
import { toDatetime } from '../../../src/server/store/columns.ts';
import { ARCHIVE_KEY, STORE_HOST } from '../../../standins/archive-store.ts';
import type { Demo } from '../../demo.ts';
import { line } from '../../ledger.ts';
import { makeDatabases } from './databases.ts';
import { loadDocumentKinds } from './document-kinds.ts';
import { loadRecords } from './load-records.ts';
import { loadListing } from './load-listing.ts';
import { PORTS } from './papers.ts';
import { writeEstate } from './write-estate.ts';
import { BRIDGES, OFFICES } from './write-offices.ts';

type Named = readonly [
  name: string,
  about: string,
  owner: string,
  steward: string | null,
  country: string,
  vendors: readonly string[],
];

/** What the ferry line runs. */
const SYSTEMS: readonly Named[] = [
  [
    'Booking',
    'Sells crossings and cabins, and checks passengers in.',
    'Commercial director',
    'Lotte Bruun',
    'DK',
    ['Seatable ApS'],
  ],
  [
    'Saltmiles',
    'The loyalty club: members, points, letters.',
    'Marketing director',
    'Priya Nand',
    'DK',
    ['Clubhouse Software Ltd'],
  ],
  [
    'Port operations',
    'Manifests, incidents, lost property and berths.',
    'Port captain',
    'Tove Lindqvist',
    'SE',
    [],
  ],
  [
    'Crew office',
    'Certificates, rosters and applications of those at sea.',
    'Crewing manager',
    'Osei Darko',
    'DK',
    [],
  ],
  [
    'Payroll',
    'Pay of all staff, at sea and ashore.',
    'Chief financial officer',
    'Osei Darko',
    'DK',
    ['Lønhuset A/S'],
  ],
  [
    'Passenger care',
    'Assistance on board, complaints, school trips.',
    'Head of care',
    'Lotte Bruun',
    'SE',
    [],
  ],
  [
    'Freight',
    'Lorries and trailers: bookings, invoices, rates.',
    'Freight manager',
    null,
    'DE',
    ['Nordkran Spedition GmbH'],
  ],
  ['Terminal mail', 'The mailboxes of the four terminals.', 'Port captain', 'Tove Lindqvist', 'DK', []],
  [
    'Car-deck cameras',
    'Pictures of the car decks, indexed by number plate.',
    'Security officer',
    null,
    'DK',
    ['Lookwell Vision AB'],
  ],
  [
    'Ship Wi-Fi',
    'Sign-ins of passengers to the network on board.',
    'Head of IT',
    'Magnus Reyer',
    'GB',
    ['Wavelink Ltd'],
  ],
  [
    'Websites',
    'Booking, crew, cruises and freight sites.',
    'Marketing director',
    'Priya Nand',
    'DK',
    ['Wavemeter', 'Adbuoy', 'Talkdeck'],
  ],
  ['Staff portal', 'Notices, rosters and forms for staff.', 'Head of IT', 'Magnus Reyer', 'SE', []],
  ['Accounts', 'Ledgers, invoices and payments.', 'Chief financial officer', null, 'DK', ['Tallybook A/S']],
  [
    'Archive',
    'What is older than three years and kept.',
    'Head of records',
    'Sanne Holt',
    'DE',
    ['Kühlhaus Archiv GmbH'],
  ],
];

const NIGHTLY: Schedule = { every: 'week', weekday: 7, day: 1, at: '02:30', zone: 'Europe/Copenhagen' };

/** The stand-in estate: systems, sources with real files behind them, surveys that begin at once, and lenses. */
/** Bookings are told apart by when the crossing is. */
const CROSSINGS: RowTemplate = { table: 'booking', day: 'departs', by: 'month', blank: ['remark'] };

export async function loadEstate(demo: Demo): Promise<void> {
  const { ctx, tx, random, now, lines, tell } = demo;
  await loadDocumentKinds(demo);
  const officer = demo.person('Ines Abara');
  const root = join(ctx.settings.DATA_DIR, 'estate');
  const files = await writeEstate(root, random, now);
  const databases = await makeDatabases(ctx, random, now);
  tell(`${files.toLocaleString('en')} files, messages and objects to be surveyed`);
  const systems = new Map<string, number>();
  for (const [name, about, owner, steward, country, vendors] of SYSTEMS) {
    const content: SystemContent = {
      name,
      about,
      owner,
      steward: steward === null ? null : demo.person(steward),
      country,
      vendors: [...vendors],
      notes: '',
    };
    systems.set(name, await addSystem(tx, now, officer, content));
    lines.push(line(demo.at(20), officer, 'system.add', 'system', systems.get(name) ?? 0, { name }));
  }
  await loadRecords(demo, systems);
  const sources = new Map<string, number>();
  const source = async (
    name: string,
    system: string,
    address: SourceAddress,
    secret = '',
    more: Partial<SourceContent> = {},
  ) => {
    const id = await insertSource(tx, ctx, officer, {
      content: { ...USUAL_SOURCE, name, system: systems.get(system) ?? null, ...more },
      address,
      secret,
    });
    sources.set(name, id);
    lines.push(line(demo.at(18), officer, 'source.add', 'source', id, { name, kind: address.kind }));
  };
  const folder = (path: string): SourceAddress => ({ kind: 'folder', root: join(root, path) });
  const mailFolder = (path: string): SourceAddress => ({ kind: 'mail folder', root: join(root, path) });
  await source('Port share', 'Port operations', folder('port'));
  await source('Crew share', 'Crew office', folder('crew'));
  await source('Care share', 'Passenger care', folder('care'));
  await source('Freight share', 'Freight', folder('freight'));
  await source('Payroll share', 'Payroll', folder('payroll'));
  await source('Accounts share', 'Accounts', folder('accounts'));
  await source('Marketing share', 'Saltmiles', folder('marketing'));
  await source('Portal forms', 'Staff portal', folder('portal'));
  for (const [i, office] of OFFICES.entries())
    await source(`Office ${PORTS[i]}`, 'Port operations', folder(`offices/${office}`));
  for (const ship of BRIDGES)
    await source(
      `Bridge ${ship === 'ms-hale' ? 'MS Hale' : 'MS Corrie'}`,
      'Crew office',
      folder(`ships/${ship}`),
    );
  await source('Terminal mail', 'Terminal mail', mailFolder('mail'));
  await source('Care mailbox', 'Passenger care', mailFolder('letters/care'));
  await source('Crewing mailbox', 'Crew office', mailFolder('letters/crewing'));
  await source('Saltmiles mailbox', 'Saltmiles', mailFolder('letters/saltmiles'));
  await source('Privacy mailbox', 'Passenger care', mailFolder('letters/privacy'));
  for (const [i, { password, ...at }] of databases.entries())
    await source(
      i === 0 ? 'Booking database' : 'Saltmiles database',
      i === 0 ? 'Booking' : 'Saltmiles',
      { kind: 'mariadb', ...at },
      password,
      i === 0 ? { rowTemplates: [CROSSINGS] } : {},
    );
  const bucket = (name: string, system: string, of: string) =>
    source(
      name,
      system,
      {
        kind: 'object store',
        endpoint: `http://${STORE_HOST}:${ctx.settings.STANDIN_PORT}`,
        region: 'eu',
        bucket: of,
        prefix: '',
        user: ARCHIVE_KEY.user,
      },
      ARCHIVE_KEY.secret,
      { pricePerGb: 0.09 },
    );
  await bucket('Archive bucket', 'Archive', 'archive');
  await bucket('Cold manifests', 'Archive', 'manifests-cold');
  await bucket('Wi-Fi sign-ins', 'Ship Wi-Fi', 'wifi-sign-ins');
  await bucket('Car-deck index', 'Car-deck cameras', 'car-deck-index');
  await loadListing(demo, systems);
  const ids = (...names: string[]) => names.flatMap((n) => sources.get(n) ?? []).map(String);
  const survey = async (name: string, of: readonly string[], without = '') => {
    const id = await addSurvey(tx, now, officer, {
      ...USUAL_SURVEY,
      name,
      sources: [...of],
      without,
      schedule: NIGHTLY,
    });
    // The first run is due as soon as there is a worker.
    await tx.run('UPDATE survey SET next_run = ? WHERE id = ?', [toDatetime(now), id]);
    lines.push(line(demo.at(16), officer, 'survey.add', 'survey', id, { name }));
  };
  await survey('Port and passengers', ids('Port share', 'Care share'));
  await survey('Crew and freight', ids('Crew share', 'Freight share'), 'Berth plans');
  await survey(
    'Mail, booking and archive',
    ids('Terminal mail', 'Booking database', 'Saltmiles database', 'Archive bucket'),
  );
  await survey(
    'Offices and ships',
    ids(...PORTS.map((p) => `Office ${p}`), 'Bridge MS Hale', 'Bridge MS Corrie'),
    'Tide tables',
  );
  await survey('Money', ids('Payroll share', 'Accounts share'));
  await survey(
    'Members, staff and travellers',
    ids(
      'Marketing share',
      'Portal forms',
      'Care mailbox',
      'Crewing mailbox',
      'Saltmiles mailbox',
      'Cold manifests',
      'Wi-Fi sign-ins',
      'Car-deck index',
    ),
  );
  for (const [name, lens] of LENSES) {
    const id = await addLens(tx, now, officer, { name, lens: parseLens(lens) });
    lines.push(line(demo.at(9), officer, 'lens.add', 'lens', id, { name }));
  }
}

const LENSES: readonly (readonly [string, string])[] = [
  ['Health notes in manifests', 'data one of "health-condition" and document one of "boarding-manifest"'],
  ['Health data anywhere', 'data one of "health-condition", "medication", "disability", "sick-leave"'],
  [
    'Children, outside school trips',
    'data one of "child", "child-age" and not document one of "school-trip-list"',
  ],
  ['Payment cards in mail', 'data one of "payment-card" and format one of "mail"'],
  ['Many people in one item', 'people at least 100'],
  ['Not changed in two years', 'changed longer ago than 2 years'],
  ['Could not be read', 'state one of "unreadable"'],
];
