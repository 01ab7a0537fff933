import pg from 'pg';
import { EVERYONE } from '../../../core/access/estate/estate-line.ts';
import type { AccessStep } from '../../../core/access/change/access-change.ts';
import type { Strength } from '../../../core/access/reach/strength.ts';
import { StepRefused } from '../readers/reader.ts';
import { postgresqlRights, STRENGTH_OF, type PostgresAddress } from './postgresql-rights.ts';

type GrantStep = Extract<AccessStep, { is: 'grant' }>;

/** What a strength at a table is given as; taken away is all that comes to it. */
const GIVEN = { see: ['REFERENCES'], read: ['SELECT'], change: ['INSERT', 'UPDATE', 'DELETE'] } as const;

const ELSEWHERE = 'somebody else gave it, or it comes with what they own; take that away at the server';

/** Gives a strength to a role of a server of PostgreSQL, at its database, a schema or a table, or takes it away. */
export async function writePostgresqlGrant(
  address: PostgresAddress,
  source: string,
  { act, grant }: GrantStep,
): Promise<'done' | 'already'> {
  const { place, strength, deny, until } = grant;
  if (deny || until !== null) throw new StepRefused('a database knows no denials, and no grants that end');
  const to = roleOf(grant.to);
  const read = async () => {
    const lines = await postgresqlRights(address, source);
    const is = lines.some(
      (l) => l.type === 'grant' && l.place === place && l.to === to && l.strength === strength,
    );
    return { lines, is };
  };
  const before = await read();
  if (before.is === (act === 'add')) return 'already';
  if (!before.lines.some((l) => l.type === 'place' && l.id === place))
    throw new StepRefused('it is not there any more');
  if (to !== EVERYONE && !before.lines.some((l) => l.type === 'group' && l.id === to))
    throw new StepRefused('no role of that name is there');
  const client = new pg.Client({ ...address, connectionTimeoutMillis: 10_000 });
  client.on('error', () => {});
  await client.connect();
  try {
    await client.query('BEGIN');
    const at = objectOf(client, address, place.slice(source.length + 1));
    const role = to === EVERYONE ? 'PUBLIC' : client.escapeIdentifier(to.slice('role '.length));
    for (const statement of await statements(client, at, role, strength, act)) await client.query(statement);
    // A grant of somebody else’s stays when one’s own is revoked, and a superuser is refused nothing.
    if (act === 'take' && (await stays(client, at, to, strength))) throw new StepRefused(ELSEWHERE);
    await client.query('COMMIT');
  } catch (error) {
    await client.query('ROLLBACK').catch(() => {});
    throw error instanceof StepRefused
      ? error
      : new StepRefused(`the server refused it: ${(error as Error).message}`);
  } finally {
    await client.end();
  }
  if ((await read()).is !== (act === 'add')) throw new StepRefused(ELSEWHERE);
  return 'done';
}

/** A person that signs in is a role, too. */
function roleOf(to: string): string {
  const [, name] = /^'(.*)'$/s.exec(to) ?? [];
  return name === undefined ? to : `role ${name}`;
}

interface DatabaseObject {
  readonly kind: 'database' | 'schema' | 'table';
  /** As statements name it. */
  readonly on: string;
  readonly schema: string;
  readonly table: string;
}

function objectOf(client: pg.Client, { database }: PostgresAddress, path: string): DatabaseObject {
  const quoted = (name: string) => client.escapeIdentifier(name);
  if (path === '') return { kind: 'database', on: `DATABASE ${quoted(database)}`, schema: '', table: '' };
  const dot = path.indexOf('.');
  if (dot < 0) return { kind: 'schema', on: `SCHEMA ${quoted(path)}`, schema: path, table: '' };
  const [schema, table] = [path.slice(0, dot), path.slice(dot + 1)];
  return { kind: 'table', on: `TABLE ${quoted(schema)}.${quoted(table)}`, schema, table };
}

async function statements(
  client: pg.Client,
  at: DatabaseObject,
  role: string,
  strength: Strength,
  act: GrantStep['act'],
): Promise<readonly string[]> {
  if (at.kind !== 'table') {
    if (strength !== 'see')
      throw new StepRefused('a database or schema is passed, and no more; choose a table');
    const privilege = at.kind === 'database' ? 'CONNECT' : 'USAGE';
    return [verb(act, privilege, at.on, role)];
  }
  if (strength === 'give') {
    const has = act === 'take' ? ['ALL PRIVILEGES'] : await privilegesOf(client, at, role);
    if (has.length === 0)
      throw new StepRefused('they have nothing there that they could give: give that first');
    return act === 'take'
      ? [`REVOKE GRANT OPTION FOR ALL PRIVILEGES ON ${at.on} FROM ${role}`]
      : [`GRANT ${has.join(', ')} ON ${at.on} TO ${role} WITH GRANT OPTION`];
  }
  // On columns less is given than what taking it back would put there.
  if (act === 'take' && (await hasColumns(client, at, role, comingTo(strength))))
    throw new StepRefused('it is given on columns; take that away at the server');
  const what =
    act === 'add'
      ? GIVEN[strength]
      : (await privilegesOf(client, at, role)).filter((p) => STRENGTH_OF[p] === strength);
  if (what.length === 0) throw new StepRefused(ELSEWHERE);
  return [verb(act, what.join(', '), at.on, role)];
}

const verb = (act: GrantStep['act'], what: string, on: string, role: string) =>
  act === 'add' ? `GRANT ${what} ON ${on} TO ${role}` : `REVOKE ${what} ON ${on} FROM ${role}`;

const comingTo = (strength: Strength) => Object.keys(STRENGTH_OF).filter((p) => STRENGTH_OF[p] === strength);

const unquoted = (role: string) => (role === 'PUBLIC' ? null : role.slice(1, -1).replaceAll('""', '"'));

/** What a role itself is given at a table. */
async function privilegesOf(
  client: pg.Client,
  { schema, table }: DatabaseObject,
  role: string,
): Promise<string[]> {
  const { rows } = await client.query<{ privilege: string }>(
    `SELECT DISTINCT a.privilege_type AS privilege FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
     CROSS JOIN LATERAL aclexplode(COALESCE(c.relacl, acldefault('r', c.relowner))) a LEFT JOIN pg_roles g ON g.oid = a.grantee
     WHERE n.nspname = $1 AND c.relname = $2 AND g.rolname IS NOT DISTINCT FROM $3`,
    [schema, table, unquoted(role)],
  );
  return rows.map((r) => r.privilege);
}

async function hasColumns(
  client: pg.Client,
  { schema, table }: DatabaseObject,
  role: string,
  privileges: readonly string[],
): Promise<boolean> {
  const { rows } = await client.query(
    `SELECT 1 FROM pg_attribute t JOIN pg_class c ON c.oid = t.attrelid JOIN pg_namespace n ON n.oid = c.relnamespace
     CROSS JOIN LATERAL aclexplode(t.attacl) a LEFT JOIN pg_roles g ON g.oid = a.grantee
     WHERE n.nspname = $1 AND c.relname = $2 AND g.rolname IS NOT DISTINCT FROM $3 AND a.privilege_type = ANY ($4) LIMIT 1`,
    [schema, table, unquoted(role), privileges],
  );
  return rows.length > 0;
}

/** Whether, in this transaction, a strength is still given to a role itself. */
async function stays(
  client: pg.Client,
  at: DatabaseObject,
  to: string,
  strength: Strength,
): Promise<boolean> {
  const name = to === EVERYONE ? null : to.slice('role '.length);
  const { rows: roots } = await client.query('SELECT 1 FROM pg_roles WHERE rolname = $1 AND rolsuper', [
    name,
  ]);
  if (roots.length > 0) return true;
  if (at.kind !== 'table') return false;
  const { rows } = await client.query(
    `SELECT 1 FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace
     CROSS JOIN LATERAL aclexplode(COALESCE(c.relacl, acldefault('r', c.relowner))) a LEFT JOIN pg_roles g ON g.oid = a.grantee
     WHERE n.nspname = $1 AND c.relname = $2 AND g.rolname IS NOT DISTINCT FROM $3
       AND (a.privilege_type = ANY ($4) OR ($5 AND a.is_grantable)) LIMIT 1`,
    [at.schema, at.table, name, comingTo(strength), strength === 'give'],
  );
  return rows.length > 0;
}
