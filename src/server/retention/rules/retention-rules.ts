import type { Vocabulary } from '../../../core/rules/change.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import {
  RetentionRuleContent,
  RetentionRuleDraft,
  retentionSentence,
  retentionVocabulary,
} from '../../../core/retention/rules/retention-rule.ts';
import { termWords } from '../../../core/retention/rules/term.ts';
import { addNumberedRule, listRules } from '../../rules/rule-store.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import type { Queries } from '../../store/pool.ts';
import { retentionNames } from '../retention-names.ts';
import { scopeFaults, termFaults } from '../scope-faults.ts';

/** How long something is kept and what follows, by its number. */
export const RETENTION_RULE: RuleKind<RetentionRuleDraft> = {
  object: 'retention rule',
  content: RetentionRuleContent,
  draft: RetentionRuleDraft,
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/retention/rules/${encodeURIComponent(String(id))}`,
  refersTo: ({ after }) =>
    after.startsWith('clock:') ? [{ object: 'clock', id: after.slice('clock:'.length) }] : [],
  text: async (store, _id, content) =>
    sentenceText(retentionSentence(await retentionNames(store), content), content),
  vocabulary: async (store): Promise<Vocabulary> => retentionVocabulary(await retentionNames(store)),
  removed: () => Promise.resolve(),
  async blocks(store, _id, content) {
    const names = await retentionNames(store);
    return [...scopeFaults(content, names), ...termFaults(content, names)];
  },
};

export interface ListedRetentionRule {
  readonly id: string;
  readonly name: string;
  readonly stage: Stage;
  /** How long, counted from what. */
  readonly term: string;
  readonly then: RetentionRuleDraft['then'];
}

/** By name. */
export async function listRetentionRules(store: Queries): Promise<readonly ListedRetentionRule[]> {
  const [all, { clocks }] = [await listRules(store, RETENTION_RULE), await retentionNames(store)];
  return all.map(({ content, ...rest }) => ({
    ...rest,
    term: termWords(content, clocks),
    then: content.then,
  }));
}

/** Adds a rule as a draft; its id. */
export function addRetentionRule(
  tx: Queries,
  now: Date,
  by: number | null,
  content: RetentionRuleDraft,
): Promise<string> {
  return addNumberedRule(tx, now, RETENTION_RULE, by, content);
}
