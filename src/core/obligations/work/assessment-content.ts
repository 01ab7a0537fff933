import { z } from 'zod';
import type { Vocabulary } from '../../rules/change.ts';
import { dayText } from '../../text/day.ts';

const Reason = (what: string) => z.string().trim().min(1, what).max(400);

/** What of the organisation it is about. */
export const AssessmentScope = z.strictObject({
  /** “crew offices in Halmsund and Østervig”; empty for all. */
  units: z.string().trim().max(400),
  /** Of Holdings, by number; none for all. */
  systems: z.array(z.int().positive()).max(500),
  providers: z.string().trim().max(400),
});
export type AssessmentScope = z.infer<typeof AssessmentScope>;

/** What is to become of a newer version of its framework. */
export const NewerVersion = z.discriminatedUnion('take', [
  z.strictObject({ take: z.literal('on a day'), version: z.iso.date(), on: z.iso.date() }),
  z.strictObject({
    ...{ take: z.literal('never'), version: z.iso.date() },
    reason: Reason('Say why it is not taken.'),
  }),
]);
export type NewerVersion = z.infer<typeof NewerVersion>;

/** What can be changed of an assessment as it stands. */
export const AssessmentContent = z.strictObject({
  /** The account that leads it. */
  lead: z.int().positive().nullable(),
  due: z.iso.date().nullable(),
  /** Controls that do not apply, by id, with why. */
  notApplicable: z.record(z.string().max(80), Reason('Say why it does not apply.')),
  scope: AssessmentScope.default({ units: '', systems: [], providers: '' }),
  /** Null until somebody decides. */
  newer: NewerVersion.nullable().default(null),
});
export type AssessmentContent = z.infer<typeof AssessmentContent>;

export const NEW_ASSESSMENT: AssessmentContent = {
  ...{ lead: null, due: null, notApplicable: {}, newer: null },
  scope: { units: '', systems: [], providers: '' },
};

/** The version that is to be taken on or before a day, if any. */
export function dueVersion({ newer }: AssessmentContent, day: string): string | null {
  return newer?.take === 'on a day' && newer.on <= day ? newer.version : null;
}

const FIELDS: Readonly<Record<string, string>> = {
  lead: 'Who leads it',
  due: 'Due',
  notApplicable: 'What does not apply',
  scope: 'What it is about',
  newer: 'A newer version of its framework',
};
const SCOPE: Readonly<Record<string, string>> = {
  units: 'Units',
  systems: 'Systems',
  providers: 'Providers',
};

export function assessmentVocabulary(
  people: ReadonlyMap<number, string>,
  controls: ReadonlyMap<string, string>,
  systems: ReadonlyMap<number, string> = new Map(),
): Vocabulary {
  return {
    path: ([first, id]) => {
      if (first === 'notApplicable' && id !== undefined)
        return `Why ${controls.get(String(id)) ?? id} does not apply`;
      if (first === 'scope' && id !== undefined) return SCOPE[String(id)];
      return FIELDS[first ?? ''];
    },
    value: (value, [first, second]) => {
      if (first === 'lead')
        return value === null ? 'nobody' : (people.get(Number(value)) ?? 'somebody who is gone');
      if (first === 'due') return value === null ? 'no day' : dayText(String(value));
      if (first === 'scope' && second === 'systems' && typeof value === 'number')
        return systems.get(value) ?? 'one that is gone';
      if (first === 'newer') return newerWords(NewerVersion.nullable().safeParse(value).data ?? null);
      return undefined;
    },
  };
}

function newerWords(newer: NewerVersion | null): string {
  if (newer === null) return 'not decided';
  return newer.take === 'never' ? `not taken, since ${newer.reason}` : `to be taken on ${dayText(newer.on)}`;
}
