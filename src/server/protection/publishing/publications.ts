import { EVERYONE, groupMark } from '../../../core/accounts/staff/audience.ts';
import {
  newPublication,
  PublicationContent,
  PublicationDraft,
  publicationSentence,
  publicationVocabulary,
  type PublicationNames,
} from '../../../core/protection/publishing/publication.ts';
import { sentenceText } from '../../../core/rules/sentence.ts';
import { versionInForce, type Stage } from '../../../core/rules/rule.ts';
import type { Refusal } from '../../../core/refusal.ts';
import { nesting } from '../../accounts/staff/staff.ts';
import type { RuleKind } from '../../rules/rule-kind.ts';
import { addNumberedRule, listRules } from '../../rules/rule-store.ts';
import type { Queries } from '../../store/pool.ts';
import { knownLevels } from '../levels/levels.ts';

/** Which people are offered which levels, by its number. */
export const PUBLICATION: RuleKind<PublicationContent> = {
  object: 'publication',
  content: PublicationContent,
  draft: PublicationDraft,
  name: (_store, _id, { name }) => name,
  place: (_store, id) => `/protection/published/${encodeURIComponent(String(id))}`,
  refersTo: ({ levels }) => levels.map((id) => ({ object: 'level', id })),
  text: async (store, _id, content) =>
    sentenceText(publicationSentence(await publicationNames(store)), content),
  vocabulary: async (store) => publicationVocabulary(await publicationNames(store)),
  // Addresses of people are personal; the ledger tells that they were changed.
  redact: (difference) =>
    difference.path[0] === 'to' || difference.path[0] === 'not'
      ? { ...difference, ...maskedMarks(difference) }
      : difference,
  removed: () => Promise.resolve(),
  async blocks(store, _id, { levels, start, to, not }) {
    const [known, groups] = [await knownLevels(store), await nesting(store)];
    const faults: Refusal['fields'][number][] = [];
    for (const id of levels) {
      const level = known.find((l) => l.id === id);
      if (!level) faults.push({ field: 'levels', message: `“${id}” is gone: choose levels that there are.` });
      else if (versionInForce(level.stage) === undefined)
        faults.push({ field: 'levels', message: `“${level.name}” is not in force: put it in force first.` });
    }
    if (start !== '' && !known.some((l) => l.id === start))
      faults.push({ field: 'start', message: `“${start}” is gone: begin with a level that there is.` });
    for (const [field, marks] of [
      ['to', to],
      ['not', not],
    ] as const)
      for (const mark of marks) {
        if (mark === EVERYONE && field === 'to') continue;
        if (mark === EVERYONE) faults.push({ field, message: 'Nobody would be left.' });
        else if (mark.startsWith('group:')) {
          const name = mark.slice('group:'.length);
          if (!groups.has(name)) faults.push({ field, message: `There is no group “${name}”.` });
        } else if (!/^[^\s@]+@[^\s@]+$/.test(mark))
          faults.push({ field, message: `“${mark}” is no group, and no e-mail address.` });
      }
    return faults;
  },
};

function maskedMarks(difference: object): object {
  const mask = (value: unknown): unknown =>
    Array.isArray(value)
      ? value.map(mask)
      : typeof value === 'string' && value.includes('@')
        ? 'somebody'
        : value;
  return Object.fromEntries(Object.entries(difference).map(([k, v]) => [k, k === 'path' ? v : mask(v)]));
}

export async function publicationNames(store: Queries): Promise<PublicationNames> {
  const [levels, groups] = [await knownLevels(store), await nesting(store)];
  return {
    levels: levels.toReversed().map((l) => ({
      value: l.id,
      words: l.name,
      ...(l.stage.state === 'in force' ? {} : { detail: l.stage.state }),
    })),
    groups: [...groups].map(([name, within]) => ({
      value: groupMark(name),
      words: name,
      detail: within.length > 0 ? `in ${within.join(', ')}` : 'group',
    })),
  };
}

export interface ListedPublication {
  readonly id: string;
  readonly name: string;
  readonly stage: Stage;
  readonly levels: readonly string[];
}

export async function listPublications(store: Queries): Promise<readonly ListedPublication[]> {
  return (await listRules(store, PUBLICATION)).map(({ content, ...rest }) => ({
    ...rest,
    levels: content.levels,
  }));
}

/** Adds a publication as a draft; its id. */
export function addPublication(
  tx: Queries,
  now: Date,
  by: number | null,
  content: PublicationContent,
): Promise<string> {
  return addNumberedRule(tx, now, PUBLICATION, by, content);
}

/** The same, to everyone, with all levels that are in force. */
export async function addNamedPublication(tx: Queries, now: Date, by: number, name: string): Promise<string> {
  const levels = (await knownLevels(tx)).filter((l) => versionInForce(l.stage) !== undefined);
  return addPublication(tx, now, by, {
    ...newPublication(name),
    levels: levels.toReversed().map((l) => l.id),
  });
}
