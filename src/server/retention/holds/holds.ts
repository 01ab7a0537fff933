import { z } from 'zod';
import { HoldContent, HoldDraft, holdSentence, holdVocabulary } from '../../../core/retention/holds/hold.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import type { Stage } from '../../../core/rules/rule.ts';
import { addNumberedRule, listRules } from '../../rules/rule-store.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { Count } from '../../store/columns.ts';
import type { Queries } from '../../store/pool.ts';
import { guardItems } from '../policy.ts';
import { retentionNames } from '../retention-names.ts';
import { scopeFaults } from '../scope-faults.ts';

/** What stays as long as a matter goes on, by its number. In force it holds; retired it is released. */
export const HOLD: RuleKind<HoldContent> = {
  object: 'hold',
  content: HoldContent,
  draft: HoldDraft,
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/retention/holds/${encodeURIComponent(String(id))}`,
  text: async (store, _id, content) => sentenceText(holdSentence(await retentionNames(store), []), content),
  vocabulary: async (store) => holdVocabulary(await retentionNames(store)),
  // Addresses of people are personal; the ledger tells that they were changed.
  redact: (difference) =>
    difference.path[0] === 'custodians'
      ? { ...difference, before: 'some people', after: 'others' }
      : difference,
  removed: () => Promise.resolve(),
  mayMove: async (tx, _id, act) => {
    // A hold that is not in force holds nothing; one that pauses would be forgotten.
    if (act === 'pause')
      throw new RefusedError('A hold does not pause: it holds, or it is released.', [
        { field: 'act', message: 'Retire it once the matter is over.' },
      ]);
    // Nothing goes between the last look at what keeps it and its end.
    await guardItems(tx, 'keep');
  },
  blocks: async (store, _id, content) => {
    const faults = scopeFaults(content, await retentionNames(store));
    if (content.from !== '' && content.until !== '' && content.from > content.until)
      faults.push({ field: 'until', message: 'It ends before it begins: choose a later day.' });
    return faults;
  },
};

/** A hold as the register lists it. */
export interface ListedHold {
  readonly id: string;
  readonly name: string;
  readonly stage: Stage;
  readonly matter: string;
  /** As counted last. */
  readonly covers: number;
  readonly keeps: number;
  /** Custodians who did not say yet that they know. */
  readonly unknown: number;
}

/** By name. */
export async function listHolds(store: Queries): Promise<readonly ListedHold[]> {
  const [all, counted, notices] = await Promise.all([
    listRules(store, HOLD),
    store.all(
      z.object({ hold_id: z.string(), covers: Count, keeps: Count }),
      'SELECT d.hold_id, d.covers, d.keeps FROM hold_day d WHERE d.day = (SELECT MAX(day) FROM hold_day x WHERE x.hold_id = d.hold_id)',
    ),
    store.all(
      z.object({ hold_id: z.string(), n: Count }),
      'SELECT hold_id, COUNT(*) AS n FROM hold_notice WHERE known_at IS NULL AND released_at IS NULL GROUP BY hold_id',
    ),
  ]);
  return all.map(({ content, ...rest }) => {
    const { covers = 0, keeps = 0 } = counted.find((c) => c.hold_id === rest.id) ?? {};
    return {
      ...rest,
      matter: content.matter,
      covers,
      keeps,
      unknown: notices.find((n) => n.hold_id === rest.id)?.n ?? 0,
    };
  });
}

/** Adds a hold as a draft; its id. */
export function addHold(tx: Queries, now: Date, by: number | null, content: HoldContent): Promise<string> {
  return addNumberedRule(tx, now, HOLD, by, content);
}
