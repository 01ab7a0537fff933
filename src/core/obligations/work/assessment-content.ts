import { z } from 'zod';
import type { Vocabulary } from '../../rules/change.ts';
import { dayText } from '../../text/day.ts';

/** What can be changed of an assessment as it stands. */
export const AssessmentContent = z.strictObject({
  /** The account that leads it. */
  lead: z.int().positive().nullable(),
  due: z.iso.date().nullable(),
  /** Controls that do not apply, by id, with why. */
  notApplicable: z.record(
    z.string().max(80),
    z.string().trim().min(1, 'Say why it does not apply.').max(400),
  ),
});
export type AssessmentContent = z.infer<typeof AssessmentContent>;

export function assessmentVocabulary(
  people: ReadonlyMap<number, string>,
  controls: ReadonlyMap<string, string>,
): Vocabulary {
  return {
    path: ([first, id]) => {
      if (first === 'notApplicable' && id !== undefined)
        return `Why ${controls.get(id) ?? id} does not apply`;
      return { lead: 'Who leads it', due: 'Due', notApplicable: 'What does not apply' }[first ?? ''];
    },
    value: (value, [first]) => {
      if (first === 'lead')
        return value === null ? 'nobody' : (people.get(Number(value)) ?? 'somebody who is gone');
      return first === 'due' ? (value === null ? 'no day' : dayText(String(value))) : undefined;
    },
  };
}
