import { groupMark } from '../../../core/accounts/staff/audience.ts';
import type { Refusal } from '../../../core/refusal.ts';
import type { SlotOption } from '../../../core/rules/sentence.ts';

type Groups = ReadonlyMap<string, readonly string[]>;

/** Groups of the staff list, as `nesting` gives them, for choosing among them in a sentence. */
export function groupOptions(groups: Groups): readonly SlotOption[] {
  return [...groups].map(([name, within]) => ({
    ...{ value: groupMark(name), words: name },
    detail: within.length > 0 ? `in ${within.join(', ')}` : 'group',
  }));
}

/** Groups that an audience names and that are none, as faults of a field. */
export function missingGroups(
  groups: Groups,
  field: string,
  audience: readonly string[],
): Refusal['fields'][number][] {
  return audience
    .filter((m) => m.startsWith('group:') && !groups.has(m.slice('group:'.length)))
    .map((m) => ({ field, message: `There is no group “${m.slice('group:'.length)}”.` }));
}
