import mysql, { type RowDataPacket } from 'mysql2/promise';
import type { AccessStep } from '../../../core/access/change/access-change.ts';
import type { Strength } from '../../../core/access/reach/strength.ts';
import { StepRefused } from '../readers/reader.ts';
import { mariadbRights } from './mariadb-rights.ts';

/** What a strength is given as. */
const GIVEN: Readonly<Record<Strength, readonly string[]>> = {
  see: ['SHOW VIEW'],
  read: ['SELECT'],
  change: ['INSERT', 'UPDATE', 'DELETE'],
  give: [],
};
/** What goes with a strength when it is taken away: all that comes to it, as `mariadbRights` reads it. */
const TAKEN: Readonly<Record<Strength, readonly string[]>> = {
  see: ['SHOW VIEW', 'CREATE', 'INDEX', 'TRIGGER', 'REFERENCES', 'CREATE VIEW'],
  read: ['SELECT'],
  change: ['INSERT', 'UPDATE', 'DELETE', 'DROP', 'ALTER', 'DELETE HISTORY'],
  give: [],
};

const ELSEWHERE = 'it is given by a pattern or on columns; take that away at the server';

type Address = Pick<mysql.ConnectionOptions, 'host' | 'port' | 'user' | 'password'>;

/** Gives a strength to an account or role of a server of MariaDB, on all, a schema or a table, or takes it away. */
export async function writeGrant(
  address: Address,
  source: string,
  { act, grant }: Extract<AccessStep, { is: 'grant' }>,
): Promise<'done' | 'already'> {
  const { place, to, strength, deny, until } = grant;
  if (deny || until !== null) throw new StepRefused('a database knows no denials, and no grants that end');
  const lines = await mariadbRights(address, source);
  const is = (l: (typeof lines)[number]) =>
    l.type === 'grant' && l.place === place && l.to === to && l.strength === strength;
  const before = lines.some(is);
  if (before === (act === 'add')) return 'already';
  if (!lines.some((l) => l.type === 'place' && l.id === place))
    throw new StepRefused('it is not there any more');
  const account = /^role /.test(to)
    ? mysql.escapeId(to.slice('role '.length))
    : accountName(
        to,
        lines.some((l) => l.type === 'person' && l.id === to),
      );
  const on = objectOf(place.slice(source.length + 1));
  const connection = await mysql.createConnection({ ...address, connectTimeout: 10_000 });
  try {
    if (act === 'add') {
      if (strength === 'give') await connection.query(`GRANT USAGE ON ${on} TO ${account} WITH GRANT OPTION`);
      else await connection.query(`GRANT ${GIVEN[strength].join(', ')} ON ${on} TO ${account}`);
    } else if (strength === 'give') await connection.query(`REVOKE GRANT OPTION ON ${on} FROM ${account}`);
    else await revoke(connection, TAKEN[strength], on, account);
  } catch (error) {
    throw new StepRefused(`the server refused it: ${(error as Error).message}`);
  } finally {
    await connection.end();
  }
  // What came of it is what counts: a grant on columns, or by a pattern, stays.
  const after = (await mariadbRights(address, source)).some(is);
  if (after !== (act === 'add')) throw new StepRefused(ELSEWHERE);
  return 'done';
}

/** Those that an account has of some; taking away what it has not would be an error. */
async function revoke(
  connection: mysql.Connection,
  privileges: readonly string[],
  on: string,
  account: string,
): Promise<void> {
  const [rows] = await connection.query<RowDataPacket[]>(`SHOW GRANTS FOR ${account}`);
  const here = rows
    .map((r) => String(Object.values(r)[0]))
    .filter((g) => g.includes(` ON ${on} TO `))
    .join('\n');
  // On columns less is given than what taking it back would put there.
  if (privileges.some((p) => new RegExp(`\\b${p} \\(`).test(here))) throw new StepRefused(ELSEWHERE);
  const has = privileges.filter(
    (p) => here.includes('ALL PRIVILEGES') || new RegExp(`\\b${p}\\b`).test(here),
  );
  if (has.length === 0) throw new StepRefused(ELSEWHERE);
  await connection.query(`REVOKE ${has.join(', ')} ON ${on} FROM ${account}`);
}

/** `'user'@'host'`, as it is known. */
function accountName(id: string, isKnown: boolean): string {
  if (!isKnown) throw new StepRefused('nobody has an account of that name there');
  const at = id.lastIndexOf("'@'");
  return `${mysql.escape(id.slice(1, at))}@${mysql.escape(id.slice(at + 3, -1))}`;
}

function objectOf(place: string): string {
  if (place === '') return '*.*';
  const dot = place.indexOf('.');
  const [schema, table] = dot < 0 ? [place, undefined] : [place.slice(0, dot), place.slice(dot + 1)];
  return `${mysql.escapeId(schema, true)}.${table === undefined ? '*' : mysql.escapeId(table, true)}`;
}
