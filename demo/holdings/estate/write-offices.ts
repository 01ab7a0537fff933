import type { Random } from '../../random.ts';
import {
  application,
  assistanceRequest,
  incident,
  invoice,
  lostProperty,
  mail,
  manifest,
  payroll,
  PORTS,
  SHIPS,
} from './papers.ts';
import { demoIban, demoPerson, digits, two, type DemoPerson } from './person.ts';
import { mailText } from './mail-text.ts';
import type { Writer } from './writer.ts';

/** Folder of each port's office. */
export const OFFICES = ['halmsund', 'oestervig', 'kaltenhagen', 'marrowquay'] as const;
/** Folder of each ship whose bridge keeps a share. */
export const BRIDGES = ['ms-hale', 'ms-corrie'] as const;
export const MAILBOXES = ['care', 'crewing', 'saltmiles'] as const;

/** What lies beside the big shares: offices of ports and ships, pay, accounts, campaigns, forms, more mail, and buckets. */
export async function writeOffices(to: Writer, random: Random, crew: readonly DemoPerson[]): Promise<void> {
  await portOffices(to, random, crew);
  await bridges(to, random, crew);
  await money(to, random, crew);
  await marketing(to, random);
  await portal(to, random, crew);
  await moreMail(to, random);
  await buckets(to, random, crew);
}

async function portOffices(to: Writer, random: Random, crew: readonly DemoPerson[]): Promise<void> {
  for (const [n, office] of OFFICES.entries()) {
    for (let i = 0; i < 60; i++) {
      const person = random.pick(crew);
      await to.file(
        `offices/${office}/Shifts/${to.day(i * 7)} shifts.txt`,
        `${PORTS[n]}, week of ${to.day(i * 7)}\nOn duty: ${person.name}, ${person.phone}\nStand-in: ${random.pick(crew).name}\nKeys: locker ${random.below(60)}\n`,
        i * 7,
      );
    }
    for (let i = 0; i < 24; i++)
      await to.csv(
        `offices/${office}/Lost property/${to.day(i * 30).slice(0, 7)}.csv`,
        lostProperty(random, to.day(i * 30).slice(0, 7)),
        i * 30,
      );
    for (let i = 0; i < 14; i++)
      await to.document(
        `offices/${office}/Incidents/${to.day(i * 41)}.docx`,
        incident(random, to.day(i * 41)),
        i * 41,
      );
    for (let i = 0; i < 20; i++)
      await to.file(
        `offices/${office}/Tide tables/${2007 + i}.txt`,
        `${PORTS[n]} ${2007 + i}\nHigh 04:12 1.31 m\nLow 10:25 0.42 m\n`,
        6000 - i * 300,
      );
  }
}

async function bridges(to: Writer, random: Random, crew: readonly DemoPerson[]): Promise<void> {
  for (const [n, ship] of BRIDGES.entries())
    for (let i = 0; i < 120; i++) {
      const day = to.day(i * 3);
      const [a, b] = [random.pick(crew), random.pick(crew)];
      const hurt = random.chance(0.12)
        ? `\nFirst aid: ${a.name}, sprained ankle, signed off sick for two days.`
        : '';
      await to.file(
        `ships/${ship}/Log/${day.slice(0, 4)}/log-${day}.txt`,
        `${SHIPS[n === 0 ? 0 : 2]}, ${day}\nMaster: ${a.name}\nMate: ${b.name}\nWind ${random.below(18)} m/s${hurt}\n`,
        i * 3,
      );
    }
}

async function money(to: Writer, random: Random, crew: readonly DemoPerson[]): Promise<void> {
  for (let i = 0; i < 36; i++) {
    const month = to.day(i * 30).slice(0, 7);
    await to.workbook(
      `payroll/Runs/${month.slice(0, 4)}/run-${month}.xlsx`,
      payroll(random, crew, month),
      i * 30,
    );
    await to.csv(
      `payroll/Bank files/${month}.csv`,
      [
        ['Employee', 'IBAN', 'Amount'],
        ...crew.map((p) => [p.name, demoIban(random), `${18 + random.below(30)}${digits(random, 3)}.00`]),
      ],
      i * 30,
    );
  }
  for (let i = 0; i < 150; i++)
    await to.pdf(
      `accounts/Invoices/${to.day(i * 6).slice(0, 4)}/in-${40_000 + i}.pdf`,
      invoice(random, i, to.day(i * 6)),
      i * 6,
    );
  for (let i = 0; i < 24; i++)
    await to.csv(
      `accounts/Ledger/ledger-${to.day(i * 30).slice(0, 7)}.csv`,
      [
        ['Date', 'Account', 'Text', 'Amount'],
        ...Array.from({ length: 60 }, () => [
          to.day(i * 30 + random.below(30)),
          digits(random, 4),
          'Fuel and berth',
          `${random.below(90_000)}.00`,
        ]),
      ],
      i * 30,
    );
}

async function marketing(to: Writer, random: Random): Promise<void> {
  for (let i = 0; i < 40; i++)
    await to.csv(
      `marketing/Campaigns/${to.day(i * 20).slice(0, 4)}/recipients-${to.day(i * 20)}.csv`,
      [
        ['Given name', 'E-mail', 'Town', 'Points'],
        ...Array.from({ length: 40 + random.below(60) }, () => {
          const p = demoPerson(random);
          return [p.given, p.email, p.town, String(random.below(9000))];
        }),
      ],
      i * 20,
    );
  for (let i = 0; i < 60; i++)
    await to.file(
      `marketing/Texts/letter-${two(i)}.html`,
      `<!doctype html><title>Saltmiles</title><h1>Half fare to ${random.pick(PORTS)}</h1><p>Dear member, sail with us in ${to.day(-i).slice(0, 7)}.</p>`,
      i * 9,
    );
}

async function portal(to: Writer, random: Random, crew: readonly DemoPerson[]): Promise<void> {
  for (let i = 0; i < 180; i++) {
    const p = random.pick(crew);
    const sick = random.chance(0.25);
    await to.file(
      `portal/Forms/${to.day(i * 4).slice(0, 7)}/form-${1000 + i}.json`,
      JSON.stringify({
        form: sick ? 'Sick leave' : 'Holiday',
        employee: p.name,
        email: p.email,
        from: to.day(i * 4),
        ...(sick
          ? { reason: random.pick(['influenza', 'back pain', 'operation, certificate follows']) }
          : {}),
      }),
      i * 4,
    );
  }
}

async function moreMail(to: Writer, random: Random): Promise<void> {
  for (const box of MAILBOXES) {
    for (const sub of ['new', 'tmp']) await to.folder(`letters/${box}/${sub}`);
    for (let i = 0; i < 130; i++) {
      const at = to.at(i * 2);
      const text =
        box === 'crewing'
          ? application(random, to.day(i * 2))
          : box === 'care'
            ? assistanceRequest(random, to.day(i * 2))
            : '';
      const letter = mail(random, box, to.day(i * 2));
      await to.file(
        `letters/${box}/cur/${Math.floor(at.getTime() / 1000)}.M${i}.${box}:2,S`,
        mailText(text && i % 3 === 0 ? { ...letter, body: text } : letter, at),
        i * 2,
      );
    }
  }
}

/** In the made-up account; some of them nobody has taken in yet. */
async function buckets(to: Writer, random: Random, crew: readonly DemoPerson[]): Promise<void> {
  for (let i = 0; i < 90; i++) {
    const day = to.day(400 + i * 5);
    const table = manifest(
      random,
      random.pick(SHIPS),
      day,
      20 + random.below(20),
      random.chance(0.2) ? 6 : 0,
    );
    await to.csv(
      `buckets/manifests-cold/${day.slice(0, 4)}/${day}.csv`,
      [[table.title], ...table.rows],
      400 + i * 5,
    );
  }
  for (let i = 0; i < 12; i++)
    await to.csv(
      `buckets/saltmiles-exports/members-${to.day(i * 30).slice(0, 7)}.csv`,
      [
        ['Member', 'Name', 'E-mail', 'Date of birth'],
        ...Array.from({ length: 120 }, (_, n) => {
          const p = demoPerson(random);
          return [`SM-${4_100_000 + n * 11 + i}`, p.name, p.email, p.born];
        }),
      ],
      i * 30,
    );
  for (let i = 0; i < 120; i++)
    await to.csv(
      `buckets/wifi-sign-ins/${to.day(i).slice(0, 7)}/${to.day(i)}.csv`,
      [
        ['Time', 'E-mail', 'Address', 'Device'],
        ...Array.from({ length: 30 }, () => {
          const mac = digits(random, 12).replace(/(..)(?=.)/g, '$1:');
          return [
            `${to.day(i)}T${two(random.below(24))}:${two(random.below(60))}`,
            demoPerson(random).email,
            `10.${random.below(250)}.${random.below(250)}.${random.below(250)}`,
            mac,
          ];
        }),
      ],
      i,
    );
  for (let i = 0; i < 120; i++)
    await to.csv(
      `buckets/car-deck-index/${to.day(i)}.csv`,
      [
        ['Time', 'Deck', 'Plate', 'Camera'],
        ...Array.from({ length: 25 }, () => [
          `${two(random.below(24))}:${two(random.below(60))}`,
          `D${1 + random.below(4)}`,
          `${random.pick(['AB', 'CK', 'DT', 'EV'])} ${digits(random, 2)} ${digits(random, 3)}`,
          String(random.below(16)),
        ]),
      ],
      i,
    );
  for (let i = 0; i < 60; i++)
    await to.document(
      `buckets/portal-uploads/${to.day(i * 6).slice(0, 7)}/upload-${700 + i}.docx`,
      i % 4 === 0
        ? `Medical certificate\n\n${random.pick(crew).name} is unfit for duty at sea because of high blood pressure.`
        : application(random, to.day(i * 6)),
      i * 6,
    );
  for (let i = 0; i < 60; i++)
    await to.file(
      `buckets/freight-scans/cmr-${88_000 + i}.txt`,
      `Consignment note ${88_000 + i}\nDriver: ${demoPerson(random).name}\nTrailer: ${digits(random, 6)}\nTo: ${random.pick(PORTS)}\n`,
      i * 8,
    );
}
