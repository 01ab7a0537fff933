import { itemVocabulary } from '../../../core/holdings/offers.ts';
import {
  LevelRuleContent,
  LevelRuleDraft,
  levelRuleSentence,
  levelRuleVocabulary,
  type LevelRuleNames,
} from '../../../core/protection/rules/level-rule.ts';
import { lensFaults } from '../../../core/lens/lens-faults.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import { versionInForce, type Stage } from '../../../core/rules/rule.ts';
import { itemNames } from '../../holdings/offers.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { addNumberedRule, listRules } from '../../rules/rule-store.ts';
import { rulesInForce, type InForce } from '../../rules/rules-in-force.ts';
import type { Queries } from '../../store/pool.ts';
import { knownLevels } from '../levels/levels.ts';

/** A rule that sets a level where a lens holds, by its number. */
export const LEVEL_RULE: RuleKind<LevelRuleContent> = {
  object: 'level rule',
  content: LevelRuleContent,
  draft: LevelRuleDraft,
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/protection/rules/${encodeURIComponent(String(id))}`,
  refersTo: ({ level }) => (level === '' ? [] : [{ object: 'level', id: level }]),
  text: async (store, _id, content) => sentenceText(levelRuleSentence(await levelRuleNames(store)), content),
  vocabulary: async (store) => levelRuleVocabulary(await levelRuleNames(store)),
  removed: () => Promise.resolve(),
  async blocks(store, _id, content) {
    const level = (await knownLevels(store)).find((l) => l.id === content.level);
    const faults = lensFaults(content.lens, itemVocabulary(await itemNames(store)));
    return [
      ...(level && versionInForce(level.stage) !== undefined
        ? []
        : [
            {
              field: 'level',
              message: level
                ? `“${level.name}” is not in force: put it in force first.`
                : 'Choose a level that there is.',
            },
          ]),
      ...faults.map((f) => ({ field: 'lens', message: f.words })),
    ];
  },
};

export async function levelRuleNames(store: Queries): Promise<LevelRuleNames> {
  const levels = await knownLevels(store);
  return {
    levels: levels.map((l) => ({
      value: l.id,
      words: l.name,
      ...(l.stage.state === 'in force' ? {} : { detail: l.stage.state }),
    })),
    items: itemVocabulary(await itemNames(store)),
  };
}

export interface ListedLevelRule {
  readonly id: string;
  readonly name: string;
  readonly level: string;
  readonly stage: Stage;
}

/** By name. */
export async function listLevelRules(store: Queries): Promise<readonly ListedLevelRule[]> {
  return (await listRules(store, LEVEL_RULE)).map(({ content, ...rest }) => ({
    ...rest,
    level: content.level,
  }));
}

/** Adds a rule as a draft; its id. */
export function addLevelRule(
  tx: Queries,
  now: Date,
  by: number | null,
  content: LevelRuleContent,
): Promise<string> {
  return addNumberedRule(tx, now, LEVEL_RULE, by, content);
}

/** A rule as it takes effect. */
export type RuleInForce = InForce<LevelRuleContent>;

/** All that are in force; of one under rehearsal, what was in force before it. */
export function levelRulesInForce(store: Queries): Promise<readonly RuleInForce[]> {
  return rulesInForce(store, LEVEL_RULE);
}
