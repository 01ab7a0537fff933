import type { Stage } from '../src/core/rules/rule.ts';
import type { RuleKind } from '../src/server/rules/rule-kind.ts';
import { insertRuleVersion } from '../src/server/rules/rule-versions.ts';
import type { Demo } from './demo.ts';
import { line } from './ledger.ts';
import { placeRule } from './place-rule.ts';

export type DemoState = 'draft' | 'rehearsing' | 'in force' | 'paused';

/** Puts a rule that was added where weeks of work have left it. */
export async function stand<T>(
  { tx, lines }: Demo,
  kind: RuleKind<T>,
  id: string,
  content: T,
  state: DemoState,
  at: Date,
  by: number,
): Promise<void> {
  const since = at.toISOString();
  const stage: Stage =
    state === 'draft'
      ? { state }
      : state === 'rehearsing'
        ? { state, version: 1, since, over: null }
        : { state, version: 1, since };
  if (state !== 'draft') {
    await insertRuleVersion(tx, at, kind, id, 1, content, by);
    const act = state === 'rehearsing' ? 'rehearse' : 'put-in-force';
    lines.push(line(at, by, `${kind.object.replaceAll(' ', '-')}.${act}`, kind.object, id, { version: 1 }));
  }
  await placeRule(tx, kind, id, {
    content,
    stage,
    versions: state === 'draft' ? 0 : 1,
    editedAt: at,
    editedBy: by,
  });
}
