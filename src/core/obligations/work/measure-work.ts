import { z } from 'zod';
import type { Vocabulary } from '../../rules/change.ts';
import { dayText } from '../../text/day.ts';
import { providersSay, type ProviderAnswer } from './provider-file.ts';
import type { Measure } from '../framework/framework.ts';
import { MEASURE_STATES, type Work } from '../readiness/readiness.ts';

const Person = z.int().positive().nullable();
const Words = z.string().trim().max(4000);

/** Where a measure stands, who does it, and who tested it. Accounts by their number. */
export const MeasureWork = z
  .strictObject({
    state: z.enum(MEASURE_STATES),
    owner: Person,
    due: z.iso.date().nullable(),
    plan: Words,
    /** How it was done, and by whom. */
    how: Words,
    doneBy: Person,
    test: z.enum(['passed', 'failed']).nullable(),
    /** How it was tested, by whom and when. */
    tested: Words,
    testedBy: Person,
    testedOn: z.iso.date().nullable(),
    /** Why it does not apply. */
    reason: Words,
  })
  .refine((w) => w.state !== 'not applicable' || w.reason !== '', {
    error: 'Say why it does not apply.',
    path: ['reason'],
  })
  .refine((w) => w.test === null || w.testedBy === null || w.testedBy !== w.doneBy, {
    error: 'Somebody else tests what one did oneself.',
    path: ['test'],
  });
export type MeasureWork = z.infer<typeof MeasureWork>;

export const NEW_WORK: MeasureWork = {
  ...{ state: 'planned', owner: null, due: null, plan: '', how: '', doneBy: null },
  ...{ test: null, tested: '', testedBy: null, testedOn: null, reason: '' },
};

const FIELDS: Readonly<Record<keyof MeasureWork, string>> = {
  state: 'State',
  owner: 'Owner',
  due: 'Due',
  plan: 'Plan',
  how: 'How it was done',
  doneBy: 'Who did it',
  test: 'Test',
  tested: 'How it was tested',
  testedBy: 'Who tested it',
  testedOn: 'Tested on',
  reason: 'Why it does not apply',
};

export function workVocabulary(names: ReadonlyMap<number, string>): Vocabulary {
  return {
    path: ([first]) => FIELDS[first as keyof MeasureWork],
    value: (value, [first]) => {
      if (first === 'owner' || first === 'doneBy' || first === 'testedBy')
        return value === null ? 'nobody' : (names.get(Number(value)) ?? 'somebody who is gone');
      if (first === 'due' || first === 'testedOn') return value === null ? 'no day' : dayText(String(value));
      return first === 'test' && value === null ? 'not tested' : undefined;
    },
  };
}

/**
 * What the program itself says of a measure: its figure within its threshold, or not; null where there is nothing to count,
 * since nothing wrong among nothing is no proof.
 */
export function liveTest(
  test: NonNullable<Measure['test']>,
  figure: { readonly value: number | null; readonly of?: number | undefined } | undefined,
): 'passed' | 'failed' | null {
  if (!figure || figure.value === null || figure.of === 0) return null;
  if (test.share && figure.of === undefined) return null;
  const value = test.share ? figure.value / (figure.of ?? 1) : figure.value;
  const right =
    (test.atMost === undefined || value <= test.atMost) &&
    (test.atLeast === undefined || value >= test.atLeast);
  return right ? 'passed' : 'failed';
}

/**
 * What counts of it. Where the program tests a measure, nobody else’s word does; where providers said something of it, theirs
 * does, for as long as the first of them lasts.
 */
export function countedWork(
  measure: Measure | undefined,
  { state, test }: Pick<MeasureWork, 'state' | 'test'>,
  live: 'passed' | 'failed' | null,
  evidenceUntil: string | null,
  answers: readonly ProviderAnswer[] = [],
): Work {
  if (measure?.test) return { state, test: live, evidenceUntil };
  const said = measure?.whose === 'provider' ? providersSay(answers) : null;
  if (!said) return { state, test, evidenceUntil };
  const until = evidenceUntil !== null && evidenceUntil < said.until ? evidenceUntil : said.until;
  return { state, test: said.test, evidenceUntil: until };
}
