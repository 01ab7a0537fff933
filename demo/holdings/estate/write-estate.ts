import { Random } from '../../random.ts';
import { demoPerson, two, type DemoPerson } from './person.ts';
import {
  application,
  assistanceRequest,
  incident,
  invoice,
  lostProperty,
  mail,
  manifest,
  payroll,
  roster,
  schoolTrip,
  SHIPS,
} from './papers.ts';
import { ASKER_MAIL, ASSISTANCE, JONAS, MAJA, manifestRow, OTHER_MAJA, PRIVACY_MAIL } from './askers.ts';
import { mailText } from './mail-text.ts';
import { Writer } from './writer.ts';
import { writeOffices } from './write-offices.ts';
import { demoCertificates } from '../certificates.ts';

/** Writes the made-up shares, mailboxes and bucket below a folder, dated back from `now`. Returns how many files. */
export async function writeEstate(root: string, random: Random, now: Date): Promise<number> {
  const writer = new Writer(root, now);
  const crew = Array.from({ length: 60 }, () => demoPerson(random, [20, 62]));
  await portShare(writer, random);
  await crewShare(writer, random, crew);
  await careShare(writer, random);
  await freightShare(writer, random);
  await mailboxes(writer, random);
  await bucket(writer, random);
  await writeOffices(writer, random, crew);
  await askers(writer);
  return writer.files;
}

async function portShare(to: Writer, random: Random): Promise<void> {
  for (let i = 0; i < 300; i++) {
    const ago = 3 + Math.floor((i * 1000) / 300);
    const [day, ship] = [to.day(ago), random.pick(SHIPS)];
    const table = manifest(random, ship, day, 14 + random.below(36), random.chance(0.3) ? 8 : 0);
    await to.workbook(
      `port/Manifests/${day.slice(0, 4)}/manifest-${day}-${ship.replaceAll(' ', '-')}-${i}.xlsx`,
      table,
      ago,
    );
  }
  // The list that should not lie where everybody can open it.
  const leak = manifest(random, 'MS Hale', to.day(150), 318, 3);
  await to.workbook(
    'port/All staff/manifest-MS-Hale-for-the-lounge.xlsx',
    { ...leak, rows: [...leak.rows.slice(0, -1), manifestRow(MAJA, 318, 'cabin near the lift')] },
    150,
  );
  for (let i = 0; i < 60; i++) {
    const ago = 5 + i * 14;
    await to.document(
      `port/Incident reports/${to.day(ago)} incident ${i + 1}.docx`,
      incident(random, to.day(ago)),
      ago,
    );
  }
  for (let i = 0; i < 30; i++) {
    const month = to.day(i * 30).slice(0, 7);
    await to.csv(`port/Lost property/lost-${month}.csv`, lostProperty(random, month), i * 30);
  }
  await to.file(
    'port/Berth plans/berth-plan.txt',
    'Berth 1: MS Hale. Berth 2: MS Brindle. Berth 4 is closed until repaired.\n',
    12,
  );
}

async function crewShare(to: Writer, random: Random, crew: readonly DemoPerson[]): Promise<void> {
  const certificates = demoCertificates(random).filter((c) => c.positive);
  for (const [i, c] of certificates.entries()) {
    const person = random.pick(crew);
    const text = `${c.text}\n\nConcerning: ${person.name}, born ${person.born}`;
    await to.document(`crew/Certificates/${person.family}/certificate-${i + 1}.docx`, text, 10 + i * 11);
  }
  for (let i = 0; i < 100; i++)
    await to.document(
      `crew/Applications/${i % 3 === 0 ? 'Not taken' : 'Open'}/application-${two(i)}.docx`,
      application(random, to.day(8 + i * 9)),
      8 + i * 9,
    );
  for (let i = 0; i < 24; i++) {
    const month = to.day(i * 30).slice(0, 7);
    await to.workbook(
      `crew/Payroll/${month.slice(0, 4)}/payroll-${month}.xlsx`,
      payroll(random, crew.slice(0, 40), month),
      i * 30,
    );
  }
  for (let i = 0; i < 52; i++)
    await to.workbook(
      `crew/Rosters/roster-${to.day(i * 7)}.xlsx`,
      roster(random, crew, random.pick(SHIPS), to.day(i * 7)),
      i * 7,
    );
}

async function careShare(to: Writer, random: Random): Promise<void> {
  for (let i = 0; i < 180; i++) {
    const ago = 2 + i * 4;
    await to.document(
      `care/Assistance requests/${to.day(ago).slice(0, 4)}/request-${String(i + 1).padStart(3, '0')}.docx`,
      assistanceRequest(random, to.day(ago)),
      ago,
    );
  }
  for (let i = 0; i < 30; i++)
    await to.workbook(
      `care/School trips/trip-${to.day(i * 20)}.xlsx`,
      schoolTrip(random, to.day(i * 20)),
      i * 20,
    );
  await to.file(
    'care/Forms/How to help at the gate.txt',
    'Ask first, then help. Never lift a passenger alone.\n',
    400,
  );
}

async function freightShare(to: Writer, random: Random): Promise<void> {
  for (let i = 0; i < 160; i++)
    await to.pdf(
      `freight/Invoices/${to.day(i * 5).slice(0, 4)}/invoice-${26_000 + i}.pdf`,
      invoice(random, i, to.day(i * 5)),
      i * 5,
    );
  await to.file(
    'freight/Rates/rates.csv',
    'from;to;per lane metre\nHalmsund;Østervig;212.00\nKaltenhagen;Marrow Quay;398.00\n',
    60,
  );
  // What a survey has to tell instead of passing over.
  await to.file('freight/Invoices/old/invoice-19881.docx', 'PK\x03\x04 cut short while copying', 900);
  await to.file(
    'freight/Scans/scan-0031.png',
    Buffer.concat([Buffer.of(0x89), Buffer.from('PNG\r\n\x1a\n')]),
    500,
  );
}

const TERMINALS = ['oestervig', 'halmsund', 'kaltenhagen', 'marrowquay'] as const;

async function mailboxes(to: Writer, random: Random): Promise<void> {
  for (const terminal of TERMINALS) {
    for (const sub of ['new', 'tmp']) await to.folder(`mail/${terminal}/${sub}`);
    for (let i = 0; i < 120; i++) {
      const ago = i * 3;
      const name = `${Math.floor(to.at(ago).getTime() / 1000)}.M${i}.terminal:2,S`;
      await to.file(
        `mail/${terminal}/cur/${name}`,
        mailText(mail(random, terminal, to.day(ago)), to.at(ago)),
        ago,
      );
    }
  }
  const messages = Array.from({ length: 80 }, (_, i) => {
    const at = to.at(400 + i * 2);
    const body = mailText(mail(random, 'crew', to.day(400 + i * 2)), at).replace(/^(>*From )/gm, '>$1');
    return `From crew@brindlestrait.example ${at.toUTCString().replace(/^(\w+), (\d+) (\w+) (\d+) ([\d:]+) GMT$/, '$1 $3 $2 $5 $4')}\n${body}\n`;
  });
  await to.file('mail/exports/crew-2025.mbox', messages.join(''), 380);
}

async function bucket(to: Writer, random: Random): Promise<void> {
  for (let i = 0; i < 160; i++) {
    const ago = 1100 + i * 4;
    const day = to.day(ago);
    const table = manifest(
      random,
      random.pick(SHIPS),
      day,
      30 + random.below(30),
      random.chance(0.2) ? 5 : 0,
    );
    await to.csv(
      `buckets/archive/manifests/${day.slice(0, 4)}/manifest-${day}.csv`,
      [[table.title], ...table.rows],
      ago,
    );
  }
  const members = Array.from({ length: 900 }, (_, i) => {
    const p = demoPerson(random);
    return [`SM-${String(4_000_000 + i * 7)}`, p.given, p.family, p.email, p.born, p.town];
  });
  await to.csv(
    'buckets/archive/saltmiles/export.csv',
    [['Member', 'Given name', 'Family name', 'E-mail', 'Date of birth', 'Town'], ...members],
    420,
  );
}

/** What there is of those who ask about their data. */
async function askers(to: Writer): Promise<void> {
  const random = new Random(1182);
  for (const [ago, who] of [
    [180, [MAJA, JONAS]],
    [62, [MAJA]],
    [30, [OTHER_MAJA, JONAS]],
  ] as const) {
    const [day, ship] = [to.day(ago), random.pick(SHIPS)];
    const table = manifest(random, ship, day, 30, 0);
    await to.workbook(
      `port/Manifests/${day.slice(0, 4)}/manifest-${day}-${ship.replaceAll(' ', '-')}-${who.length}.xlsx`,
      { ...table, rows: [...table.rows, ...who.map((w, i) => manifestRow(w, 31 + i))] },
      ago,
    );
  }
  const old = manifest(random, 'MS Brindle', to.day(1190), 24, 0);
  await to.csv(
    `buckets/archive/manifests/${to.day(1190).slice(0, 4)}/manifest-${to.day(1190)}-evening.csv`,
    [[old.title], ...old.rows, manifestRow(MAJA, 25), manifestRow(JONAS, 26)],
    1190,
  );
  await to.document(`care/Assistance requests/${to.day(152).slice(0, 4)}/request-201.docx`, ASSISTANCE, 152);
  await to.csv(
    `port/Lost property/lost-lounge-${to.day(60).slice(0, 7)}.csv`,
    [
      ['Found', 'Ship', 'What', 'Owner', 'E-mail', 'Telephone', 'Handed out'],
      [to.day(61), 'MS Hale', 'reading glasses', 'Maja Holmqvist', '', '', 'no'],
      [
        to.day(60),
        'MS Hale',
        'umbrella',
        'Astrid Berg',
        'astrid.berg311@post.example',
        '+46 70 1150277',
        'yes',
      ],
      [to.day(60), 'MS Corrie', 'black jacket', 'Jonas Feldkamp', JONAS.email, JONAS.phone, 'yes'],
    ],
    60,
  );
  for (const [i, { box, ago, mail: m }] of ASKER_MAIL.entries())
    await to.file(
      `${box}/cur/${Math.floor(to.at(ago).getTime() / 1000)}.A${i}.asked:2,S`,
      mailText(m, to.at(ago)),
      ago,
    );
  for (const sub of ['new', 'tmp']) await to.folder(`letters/privacy/${sub}`);
  for (const [i, { ago, mail: m }] of PRIVACY_MAIL.entries())
    await to.file(
      `letters/privacy/cur/${Math.floor(to.at(ago).getTime() / 1000)}.P${i}.privacy:2,S`,
      mailText(m, to.at(ago)),
      ago,
    );
}
