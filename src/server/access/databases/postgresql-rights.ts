import pg from 'pg';
import { z } from 'zod';
import { EVERYONE, type EstateLine, type GrantLine } from '../../../core/access/estate/estate-line.ts';
import type { Strength } from '../../../core/access/reach/strength.ts';

/** What privileges on tables and their columns come to. */
export const STRENGTH_OF: Readonly<Record<string, Strength>> = {
  SELECT: 'read',
  ...{ INSERT: 'change', UPDATE: 'change', DELETE: 'change', TRUNCATE: 'change' },
  ...{ REFERENCES: 'see', TRIGGER: 'see', MAINTAIN: 'see' },
};

const Role = z.object({ name: z.string(), login: z.boolean(), root: z.boolean() });
const RoleOf = z.object({ role: z.string(), member: z.string() });
const Schema = z.object({ name: z.string(), owner: z.string() });
const Table = Schema.extend({ schema: z.string() });
/** `to` is null for PUBLIC, everybody with an account. */
const Given = z.object({
  schema: z.string(),
  name: z.string(),
  to: z.string().nullable(),
  privilege: z.string(),
  grantable: z.boolean(),
});

const OURS = "n.nspname NOT IN ('pg_catalog', 'information_schema') AND n.nspname NOT LIKE 'pg\\_%'";

export interface PostgresAddress {
  readonly host: string;
  readonly port: number;
  readonly user: string;
  readonly password: string;
  readonly database: string;
}

/**
 * Who may do what with the tables of a database of PostgreSQL: its roles, who may connect, who may pass a schema, and what is
 * granted on tables or columns. A role is a group; one that may sign in is a person besides, in that group. A role counts
 * whether it is inherited or has to be taken. Throws the database’s error where it cannot be read.
 */
export async function postgresqlRights(
  address: PostgresAddress,
  source: string,
): Promise<readonly EstateLine[]> {
  const client = new pg.Client({ ...address, connectionTimeoutMillis: 10_000 });
  client.on('error', () => {});
  await client.connect();
  try {
    await client.query('BEGIN TRANSACTION ISOLATION LEVEL REPEATABLE READ READ ONLY');
    const rows = async <T extends z.ZodType>(shape: T, sql: string): Promise<z.infer<T>[]> =>
      (await client.query<Record<string, unknown>>(sql)).rows.map((r) => shape.parse(r));
    const acl = (of: string, kind: string, owner: string) =>
      `CROSS JOIN LATERAL aclexplode(COALESCE(${of}, acldefault('${kind}', ${owner}))) a LEFT JOIN pg_roles g ON g.oid = a.grantee`;
    const told =
      'CASE WHEN a.grantee = 0 THEN NULL ELSE g.rolname::text END AS "to", a.privilege_type AS privilege, a.is_grantable AS grantable';
    const [roles, members, [database], schemas, tables, connects, passes, onTables, onColumns] = [
      await rows(Role, 'SELECT rolname::text AS name, rolcanlogin AS login, rolsuper AS root FROM pg_roles'),
      await rows(
        RoleOf,
        'SELECT r.rolname::text AS role, m.rolname::text AS member FROM pg_auth_members x JOIN pg_roles r ON r.oid = x.roleid JOIN pg_roles m ON m.oid = x.member',
      ),
      await rows(
        Schema,
        'SELECT d.datname::text AS name, o.rolname::text AS owner FROM pg_database d JOIN pg_roles o ON o.oid = d.datdba WHERE d.datname = current_database()',
      ),
      await rows(
        Schema,
        `SELECT n.nspname::text AS name, o.rolname::text AS owner FROM pg_namespace n JOIN pg_roles o ON o.oid = n.nspowner WHERE ${OURS}`,
      ),
      await rows(
        Table,
        `SELECT n.nspname::text AS schema, c.relname::text AS name, o.rolname::text AS owner FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace JOIN pg_roles o ON o.oid = c.relowner WHERE c.relkind IN ('r', 'm', 'p') AND ${OURS}`,
      ),
      await rows(
        Given,
        `SELECT '' AS schema, '' AS name, ${told} FROM pg_database d ${acl('d.datacl', 'd', 'd.datdba')} WHERE d.datname = current_database() AND a.privilege_type = 'CONNECT'`,
      ),
      await rows(
        Given,
        `SELECT n.nspname::text AS schema, '' AS name, ${told} FROM pg_namespace n ${acl('n.nspacl', 'n', 'n.nspowner')} WHERE a.privilege_type = 'USAGE' AND ${OURS}`,
      ),
      await rows(
        Given,
        `SELECT n.nspname::text AS schema, c.relname::text AS name, ${told} FROM pg_class c JOIN pg_namespace n ON n.oid = c.relnamespace ${acl('c.relacl', 'r', 'c.relowner')} WHERE c.relkind IN ('r', 'm', 'p') AND ${OURS}`,
      ),
      await rows(
        Given,
        `SELECT DISTINCT n.nspname::text AS schema, c.relname::text AS name, ${told} FROM pg_attribute t JOIN pg_class c ON c.oid = t.attrelid JOIN pg_namespace n ON n.oid = c.relnamespace CROSS JOIN LATERAL aclexplode(t.attacl) a LEFT JOIN pg_roles g ON g.oid = a.grantee WHERE t.attacl IS NOT NULL AND NOT t.attisdropped AND c.relkind IN ('r', 'm', 'p') AND ${OURS}`,
      ),
    ];
    const lines: EstateLine[] = [];
    const group = (role: string) => `role ${role}`;
    for (const { name, login } of roles) {
      lines.push({
        ...{ type: 'group', id: group(name), name, where: [] },
        members: [
          ...(login ? [`'${name}'`] : []),
          ...members.flatMap((m) => (m.role === name ? [group(m.member)] : [])),
        ],
      });
      if (login)
        lines.push({
          ...{ type: 'person', id: `'${name}'`, name, state: 'open', until: null, left: null, guest: false },
          attributes: {},
        });
    }
    const top = `${source}:`;
    const schemaId = (schema: string) => `${source}:${schema}`;
    const tableId = (schema: string, name: string) => `${schemaId(schema)}.${name}`;
    const place = (id: string, parent: string | null, name: string, owner: string | null, gate: boolean) =>
      lines.push({
        ...{ type: 'place', id, source, parent, name, inherits: false, gate },
        owner: owner === null ? null : group(owner),
      });
    // Who owns a database may do without the right to connect only by giving it to themselves: it is among the defaults.
    place(top, null, database?.name ?? source, null, true);
    for (const s of schemas) place(schemaId(s.name), top, s.name, s.owner, true);
    for (const t of tables) place(tableId(t.schema, t.name), schemaId(t.schema), t.name, t.owner, false);
    const grants = new Map<string, GrantLine>();
    const give = (at: string, to: string, strength: Strength) =>
      grants.set(`${at} ${to} ${strength}`, {
        ...{
          type: 'grant',
          place: at,
          to,
          strength,
          deny: false,
          only: true,
          until: null,
          by: null,
          at: null,
        },
      });
    const whom = (to: string | null) => (to === null ? EVERYONE : group(to));
    for (const g of connects) give(top, whom(g.to), 'see');
    for (const g of passes) give(schemaId(g.schema), whom(g.to), 'see');
    for (const g of [...onTables, ...onColumns]) {
      const strength = STRENGTH_OF[g.privilege];
      if (!strength) continue;
      give(tableId(g.schema, g.name), whom(g.to), strength);
      if (g.grantable) give(tableId(g.schema, g.name), whom(g.to), 'give');
    }
    // Nothing is closed to a superuser.
    for (const { name, root } of roles)
      if (root)
        for (const at of [
          top,
          ...schemas.map((s) => schemaId(s.name)),
          ...tables.map((t) => tableId(t.schema, t.name)),
        ])
          for (const strength of ['see', 'read', 'change', 'give'] as const) give(at, group(name), strength);
    return [...lines, ...grants.values()];
  } finally {
    await client.end();
  }
}
