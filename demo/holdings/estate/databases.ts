import { randomBytes } from 'node:crypto';
import type { Context } from '../../../src/server/context.ts';
import type { Random } from '../../random.ts';
import { ASKERS } from './askers.ts';
import { demoPerson, digits } from './person.ts';
import { PORTS, SHIPS } from './papers.ts';

const DATABASE = 'brindle_booking';
const LOYALTY = 'brindle_saltmiles';
const READER = 'booking_reader';

/** Where a made-up database can be read. */
export interface DemoDatabase {
  readonly host: string;
  readonly port: number;
  readonly user: string;
  readonly database: string;
  readonly password: string;
}

/**
 * Makes the databases of booking and loyalty beside the program’s own, with a user that can only read them; none where that
 * is not allowed, or one of that name is there.
 */
export async function makeDatabases(
  { store, settings }: Context,
  random: Random,
  now: Date,
): Promise<readonly DemoDatabase[]> {
  if (!settings.DATABASE_URL) return [];
  const at = new URL(settings.DATABASE_URL);
  const password = randomBytes(18).toString('base64url');
  try {
    // One that is there already is somebody's, and left alone.
    await store.run(`CREATE DATABASE ${DATABASE} CHARACTER SET utf8mb4`);
    await store.run(`DROP USER IF EXISTS '${READER}'@'${at.hostname}'`);
    await store.run(`CREATE USER '${READER}'@'${at.hostname}' IDENTIFIED BY '${password}'`);
    await store.run(`CREATE DATABASE ${LOYALTY} CHARACTER SET utf8mb4`);
    for (const database of [DATABASE, LOYALTY])
      await store.run(`GRANT SELECT ON ${database}.* TO '${READER}'@'${at.hostname}'`);
  } catch {
    return [];
  }
  await store.run(
    `CREATE TABLE ${DATABASE}.passenger (id INT PRIMARY KEY, given_name VARCHAR(60), family_name VARCHAR(60), email VARCHAR(120), phone VARCHAR(40), date_of_birth DATE, passport_number VARCHAR(20), country CHAR(2))`,
  );
  await store.run(
    `CREATE TABLE ${DATABASE}.booking (reference CHAR(8) PRIMARY KEY, passenger_id INT, ship VARCHAR(30), departs DATE, from_port VARCHAR(30), to_port VARCHAR(30), remark VARCHAR(200))`,
  );
  await store.run(
    `CREATE TABLE ${DATABASE}.member (number CHAR(10) PRIMARY KEY, passenger_id INT, email VARCHAR(120), postal_address VARCHAR(200), joined DATE)`,
  );
  const passengers = Array.from({ length: 6000 }, (_, i) => ({ id: i + 1, ...demoPerson(random) }));
  const day = (back: number) => new Date(now.getTime() - back * 86_400_000).toISOString().slice(0, 10);
  await insert(
    store,
    'passenger',
    passengers.map((p) => [p.id, p.given, p.family, p.email, p.phone, p.born, p.passport, p.country]),
  );
  await insert(
    store,
    'booking',
    Array.from({ length: 9000 }, (_, i) => [
      `BS${String(100_000 + i)}`,
      1 + random.below(passengers.length),
      random.pick(SHIPS),
      day(random.below(700)),
      random.pick(PORTS),
      random.pick(PORTS),
      random.chance(0.03)
        ? random.pick(['wheelchair at the gate', 'insulin in the fridge, diabetes', 'nut allergy'])
        : '',
    ]),
  );
  await insert(
    store,
    'member',
    passengers
      .slice(0, 2500)
      .map((p) => [
        `SM${digits(random, 3)}${String(p.id).padStart(5, '0')}`,
        p.id,
        p.email,
        `${p.street}, ${p.town}`,
        day(random.below(2000)),
      ]),
  );
  await store.run(
    `CREATE TABLE ${LOYALTY}.member (number CHAR(10) PRIMARY KEY, full_name VARCHAR(120), email VARCHAR(120), date_of_birth DATE, postal_address VARCHAR(200), points INT)`,
  );
  await insert(
    store,
    'member',
    passengers
      .slice(0, 1500)
      .map((p) => [
        `SL${String(p.id).padStart(7, '0')}`,
        p.name,
        p.email,
        p.born,
        `${p.street}, ${p.town}`,
        random.below(9000),
      ]),
    LOYALTY,
  );
  await insert(
    store,
    'passenger',
    ASKERS.map((p) => [p.id, p.given, p.family, p.email, p.phone, p.born, p.passport, p.country]),
  );
  await insert(
    store,
    'booking',
    ASKERS.flatMap((p) =>
      p.bookings.map((b, i) => [b, p.id, SHIPS[i] ?? SHIPS[0], day(30 + 60 * i), 'Halmsund', 'Østervig', '']),
    ),
  );
  await insert(
    store,
    'member',
    ASKERS.map((p) => [p.member, p.name, p.email, p.born, `${p.street}, ${p.town}`, 1240]),
    LOYALTY,
  );
  const where = { host: at.hostname, port: Number(at.port || 3306), user: READER, password };
  return [
    { ...where, database: DATABASE },
    { ...where, database: LOYALTY },
  ];
}

async function insert(
  store: Context['store'],
  table: string,
  rows: readonly (readonly (string | number)[])[],
  database = DATABASE,
): Promise<void> {
  for (let from = 0; from < rows.length; from += 1000)
    await store.run(`INSERT INTO ${database}.${table} VALUES ?`, [rows.slice(from, from + 1000)]);
}
