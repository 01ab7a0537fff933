import type { HandlingRuleContent } from '../../../core/protection/handling/handling-rule.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { record } from '../../evidence/ledger.ts';
import { rulesNaming } from '../../rules/rule-references.ts';
import { listRules } from '../../rules/rule-store.ts';
import { readRuleVersion } from '../../rules/rule-versions.ts';
import { rulesInForce } from '../../rules/rules-in-force.ts';
import type { Queries } from '../../store/pool.ts';
import { HANDLING_RULE } from './handling-rules.ts';
import { NAMED_GROUP } from './named-groups.ts';

/**
 * Takes a group away. Throws a RefusedError (404), and (409) where a rule names it, in its draft, as it is in force or as it was
 * paused: a rule
 * that spares a group would hold for more without it.
 */
export async function removeNamedGroup(tx: Queries, now: Date, by: number, id: number): Promise<void> {
  const { name } = await NAMED_GROUP.read(tx, id, true);
  const key = String(id);
  const drafts = await rulesNaming(tx, 'named group', key);
  const standing = [...(await rulesInForce(tx, HANDLING_RULE)), ...(await pausedRules(tx))];
  const inForce = standing.filter((r) => [...r.towards.groups, ...r.networks].includes(key));
  const users = [...new Set([...drafts, ...inForce].map((r) => r.name))];
  if (users.length > 0)
    throw new RefusedError(
      `${users.map((u) => `“${u}”`).join(', ')} ${users.length === 1 ? 'names' : 'name'} it. Take it out there first, and put that in force.`,
      [],
      409,
    );
  await tx.run('DELETE FROM named_group WHERE id = ?', [id]);
  await record(tx, now, {
    ...{ actor: by, action: 'named group.remove', object: 'named group', objectId: id, detail: { name } },
  });
}

/** As they would be in force again by one act. */
async function pausedRules(tx: Queries): Promise<readonly HandlingRuleContent[]> {
  const paused = await listRules(tx, HANDLING_RULE, ['paused']);
  return Promise.all(
    paused.flatMap(({ id, stage }) =>
      stage.state === 'paused' ? [readRuleVersion(tx, HANDLING_RULE, id, stage.version)] : [],
    ),
  );
}
