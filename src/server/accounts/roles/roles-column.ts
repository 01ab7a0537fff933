import { z } from 'zod';
import { BUILT_IN_ROLES, isBuiltIn } from '../../../core/accounts/roles/built-in-role.ts';
import { builtIn, type HeldRole } from '../../../core/accounts/roles/held-role.ts';
import { roleActions, type OwnRole } from '../../../core/accounts/roles/own-role.ts';
import { JsonColumn } from '../../store/columns.ts';

/**
 * Reads the roles of the account `a` for `RolesColumn`; of own ones, the name and what is in force. While another version
 * is rehearsed, the one before it is.
 */
export const ROLES_SQL = `(SELECT JSON_ARRAYAGG(JSON_ARRAY(h.role, r.name, v.content)) FROM account_role h
  LEFT JOIN rule r ON r.kind = 'role' AND r.id = h.role
  LEFT JOIN rule_version v ON v.kind = r.kind AND v.id = r.id
    AND v.version = CASE r.state WHEN 'in force' THEN JSON_VALUE(r.stage, '$.version') WHEN 'rehearsing' THEN JSON_VALUE(r.stage, '$.over.version') END
  WHERE h.account_id = a.id) AS roles`;

const Held = z.array(z.tuple([z.string(), z.string().nullable(), z.unknown()]));

/** Those that ship first, then by name. A role that was removed is none. */
export const RolesColumn = JsonColumn(Held.nullable()).transform((rows): readonly HeldRole[] => {
  const held = (rows ?? []).flatMap(([id, name, content]) => {
    if (isBuiltIn(id)) return [builtIn(id)];
    return name === null ? [] : [{ id, name, actions: content === null ? [] : actionsOf(content) }];
  });
  return held.sort((a, b) => rank(a) - rank(b) || a.name.localeCompare(b.name));
});

const Content = z.object({ may: z.record(z.string(), z.array(z.string())) });

/** Permissions that are none any more are let go, and the role stands. */
function actionsOf(content: unknown): HeldRole['actions'] {
  const { may } = Content.parse(typeof content === 'string' ? JSON.parse(content) : content);
  return roleActions({ may: may as OwnRole['may'] });
}

const rank = ({ id }: HeldRole) => (isBuiltIn(id) ? BUILT_IN_ROLES.indexOf(id) : BUILT_IN_ROLES.length);
