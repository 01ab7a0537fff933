import {
  LawBoundContent,
  LawBoundDraft,
  lawBoundSentence,
  lawBoundVocabulary,
} from '../../../core/retention/rules/law-bound.ts';
import { termWords } from '../../../core/retention/rules/term.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import { addNumberedRule, listRules } from '../../rules/rule-store.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import type { Queries } from '../../store/pool.ts';
import { retentionNames } from '../retention-names.ts';
import { scopeFaults, termFaults } from '../scope-faults.ts';

/** How long the law asks to keep something at least, or at most, by its number. */
export const LAW_BOUND: RuleKind<LawBoundDraft> = {
  object: 'bound',
  content: LawBoundContent,
  draft: LawBoundDraft,
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/retention/law/${encodeURIComponent(String(id))}`,
  refersTo: ({ after }) =>
    after.startsWith('clock:') ? [{ object: 'clock', id: after.slice('clock:'.length) }] : [],
  text: async (store, _id, content) =>
    sentenceText(lawBoundSentence(await retentionNames(store), content), content),
  vocabulary: async (store) => lawBoundVocabulary(await retentionNames(store)),
  removed: () => Promise.resolve(),
  async blocks(store, _id, content) {
    const names = await retentionNames(store);
    return [...scopeFaults(content, names), ...termFaults(content, names)];
  },
};

export interface ListedBound {
  readonly id: string;
  readonly name: string;
  readonly stage: Stage;
  readonly kind: LawBoundDraft['kind'];
  readonly term: string;
  readonly article: string;
}

/** By name. */
export async function listLawBounds(store: Queries): Promise<readonly ListedBound[]> {
  const [all, { clocks }] = [await listRules(store, LAW_BOUND), await retentionNames(store)];
  return all.map(({ content, ...rest }) => ({
    ...rest,
    kind: content.kind,
    term: termWords(content, clocks),
    article: content.article,
  }));
}

/** Adds a bound as a draft; its id. */
export function addLawBound(
  tx: Queries,
  now: Date,
  by: number | null,
  content: LawBoundDraft,
): Promise<string> {
  return addNumberedRule(tx, now, LAW_BOUND, by, content);
}
