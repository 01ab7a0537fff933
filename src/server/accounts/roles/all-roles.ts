import { BUILT_IN_ROLES } from '../../../core/accounts/roles/built-in-role.ts';
import { builtIn, type HeldRole } from '../../../core/accounts/roles/held-role.ts';
import { roleActions } from '../../../core/accounts/roles/own-role.ts';
import { versionInForce, type Stage } from '../../../core/rules/rule.ts';
import { listRules } from '../../rules/rule-store.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import type { Queries } from '../../store/pool.ts';
import { ROLE } from './role-rule.ts';

/** A role there is. One that ships is always in force. */
export interface Role extends HeldRole {
  readonly own: boolean;
  readonly state: Stage['state'];
  /** What it would allow as its draft stands; of one that ships, what it allows. */
  readonly drafted: HeldRole['actions'];
}

/** Those that ship, then the organisation's own by name. */
export async function allRoles(store: Queries): Promise<readonly Role[]> {
  const own = await Promise.all(
    (await listRules(store, ROLE)).map(async ({ id, name, content, stage }): Promise<Role> => {
      const version = versionInForce(stage);
      const actions =
        version === undefined ? [] : roleActions(await readRuleVersion(store, ROLE, id, version));
      return {
        ...{ id, name, actions, own: true, drafted: roleActions(content) },
        state: version === undefined ? stage.state : 'in force',
      };
    }),
  );
  const shipped = BUILT_IN_ROLES.map((name): Role => {
    const role = builtIn(name);
    return { ...role, own: false, state: 'in force', drafted: role.actions };
  });
  return [...shipped, ...own];
}
