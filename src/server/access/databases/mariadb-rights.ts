import mysql, { type RowDataPacket } from 'mysql2/promise';
import { z } from 'zod';
import type { EstateLine, GrantLine } from '../../../core/access/estate/estate-line.ts';
import type { Strength } from '../../../core/access/reach/strength.ts';

/** What privileges on tables come to; those that are about the server, or about programs in it, open no table. */
const STRENGTH_OF: Readonly<Record<string, Strength>> = {
  SELECT: 'read',
  ...{ INSERT: 'change', UPDATE: 'change', DELETE: 'change', DROP: 'change', ALTER: 'change' },
  ...{ 'DELETE HISTORY': 'change' },
  ...{ CREATE: 'see', INDEX: 'see', TRIGGER: 'see', REFERENCES: 'see' },
  ...{ 'CREATE VIEW': 'see', 'SHOW VIEW': 'see' },
};

const Privilege = z.object({ grantee: z.string(), privilege: z.string(), grantable: z.string() });
const OnSchema = Privilege.extend({ pattern: z.string() });
const OnTable = Privilege.extend({ schema: z.string(), name: z.string() });
const Account = z.object({ user: z.string(), host: z.string(), role: z.string(), locked: z.coerce.number() });
const RoleOf = z.object({ user: z.string(), host: z.string(), role: z.string() });
const Table = z.object({ schema: z.string(), name: z.string() });

/**
 * Who may do what with the tables of a server of MariaDB: its accounts and roles, and what is granted to them on all, on
 * schemas and on tables or columns. Read by an account that sees them all. Throws the database's error where it does not.
 */
export async function mariadbRights(
  address: Pick<mysql.ConnectionOptions, 'host' | 'port' | 'user' | 'password'>,
  source: string,
): Promise<readonly EstateLine[]> {
  const connection = await mysql.createConnection({ ...address, connectTimeout: 10_000 });
  try {
    await connection.query('START TRANSACTION READ ONLY');
    const rows = async <T extends z.ZodType>(shape: T, sql: string): Promise<z.infer<T>[]> =>
      (await connection.query<RowDataPacket[]>(sql))[0].map((r) => shape.parse(r));
    const given = 'grantee AS grantee, privilege_type AS privilege, is_grantable AS grantable';
    const [accounts, roles, all, schemas, tables, columns, known] = [
      await rows(
        Account,
        "SELECT user AS user, host AS host, is_role AS role, COALESCE((SELECT JSON_VALUE(p.priv, '$.account_locked') IN ('true', '1') FROM mysql.global_priv p WHERE p.user = u.user AND p.host = u.host), 0) AS locked FROM mysql.user u",
      ),
      await rows(RoleOf, 'SELECT user AS user, host AS host, role AS role FROM mysql.roles_mapping'),
      await rows(Privilege, `SELECT ${given} FROM information_schema.user_privileges`),
      await rows(
        OnSchema,
        `SELECT ${given}, table_schema AS pattern FROM information_schema.schema_privileges`,
      ),
      await rows(
        OnTable,
        `SELECT ${given}, table_schema AS \`schema\`, table_name AS name FROM information_schema.table_privileges`,
      ),
      await rows(
        OnTable,
        `SELECT DISTINCT ${given}, table_schema AS \`schema\`, table_name AS name FROM information_schema.column_privileges`,
      ),
      await rows(
        Table,
        "SELECT table_schema AS `schema`, table_name AS name FROM information_schema.tables WHERE table_type = 'BASE TABLE' AND table_schema NOT IN ('information_schema', 'performance_schema')",
      ),
    ];
    const lines: EstateLine[] = [];
    const idOf = (user: string, host: string) => `'${user}'@'${host}'`;
    const roleId = (role: string) => `role ${role}`;
    const isRole = new Map(
      accounts.map((a) => [idOf(a.user, a.host), a.role === 'Y' ? roleId(a.user) : null]),
    );
    for (const { user, host, role, locked } of accounts)
      if (role === 'Y') {
        const members = roles.flatMap((r) =>
          r.role === user ? [r.host === '' ? roleId(r.user) : idOf(r.user, r.host)] : [],
        );
        lines.push({ type: 'group', id: roleId(user), name: user, members, where: [] });
      } else
        lines.push({
          ...{ type: 'person', id: idOf(user, host), name: user, state: locked > 0 ? 'disabled' : 'open' },
          ...{ until: null, left: null, guest: false, attributes: {} },
        });
    const place = (id: string, parent: string | null, name: string) =>
      lines.push({
        ...{ type: 'place', id, source, parent, name, inherits: true, gate: false, owner: null },
      });
    const schemaId = (schema: string) => `${source}:${schema}`;
    place(`${source}:`, null, source);
    for (const schema of new Set(known.map((t) => t.schema))) place(schemaId(schema), `${source}:`, schema);
    for (const { schema, name } of known) place(`${schemaId(schema)}.${name}`, schemaId(schema), name);
    const grants = new Map<string, GrantLine>();
    const grant = (at: string, { grantee, privilege, grantable }: z.infer<typeof Privilege>) => {
      const to = isRole.get(grantee) ?? grantee;
      const give = (strength: Strength) =>
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
      const strength = STRENGTH_OF[privilege];
      if (strength) give(strength);
      if (strength && grantable === 'YES') give('give');
    };
    for (const p of all) grant(`${source}:`, p);
    const names = [...new Set(known.map((t) => t.schema))];
    const bySchema = new Map<string, z.infer<typeof OnSchema>[]>();
    for (const p of schemas) bySchema.set(p.grantee, [...(bySchema.get(p.grantee) ?? []), p]);
    for (const of of bySchema.values())
      for (const schema of names) {
        // Of several patterns that fit, the server heeds the most specific alone.
        const [best] = [...new Set(of.map((p) => p.pattern))]
          .filter((pattern) => fits(pattern, schema))
          .sort((a, b) => fixedPart(b) - fixedPart(a));
        for (const p of of) if (p.pattern === best) grant(schemaId(schema), p);
      }
    const isKnown = new Set(known.map((t) => `${t.schema}.${t.name}`));
    for (const p of [...tables, ...columns])
      if (isKnown.has(`${p.schema}.${p.name}`)) grant(`${schemaId(p.schema)}.${p.name}`, p);
    return [...lines, ...grants.values()];
  } finally {
    await connection.end();
  }
}

/** Whether a pattern of LIKE, with `\` before what stands for itself, is a schema. */
function fits(pattern: string, schema: string): boolean {
  const source = pattern.replace(/\\([%_\\])|[%_]|[^%_\\]+|\\/g, (part, escaped: string | undefined) => {
    if (escaped !== undefined) return escapeText(escaped);
    if (part === '%') return '.*';
    return part === '_' ? '.' : escapeText(part);
  });
  return new RegExp(`^${source}$`, 's').test(schema);
}

const escapeText = (text: string) => text.replace(/[.*+?^${}()|[\]\\]/g, '\\$&');

/** How much of a pattern stands before its first wildcard. */
function fixedPart(pattern: string): number {
  const at = pattern.replace(/\\[%_\\]/g, '..').search(/[%_]/);
  return at < 0 ? Infinity : at;
}
