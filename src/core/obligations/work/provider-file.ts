import { z } from 'zod';
import type { Measure } from '../framework/framework.ts';
import { Id } from '../framework/framework.ts';

/** What a provider says of its measures, as a file (docs/frameworks.md). */
export const ProviderFile = z.strictObject({
  format: z.literal('yare-provider-1'),
  provider: z.string().trim().min(1, 'Say who the provider is.').max(200),
  /** The day on which it says so, and the last on which that counts. */
  issued: z.iso.date(),
  until: z.iso.date(),
  measures: z
    .array(
      z.strictObject({
        measure: Id,
        test: z.enum(['passed', 'failed']),
        /** What was done, and how it was tested. */
        how: z.string().trim().min(1, 'Say how it was done and tested.').max(4000),
        /** Where it counts for less long than the rest. */
        until: z.iso.date().optional(),
      }),
    )
    .min(1)
    .max(1000),
});
export type ProviderFile = z.infer<typeof ProviderFile>;

/** Longer than this nobody’s word counts: two years. */
const MOST_DAYS = 731;

/** What a file says that cannot be taken: the field, and why. `asked` are measures that the cycle asks for. */
export function providerFaults(
  file: ProviderFile,
  measures: ReadonlyMap<string, Pick<Measure, 'whose'>>,
  asked: ReadonlySet<string>,
  day: string,
): readonly { readonly field: string; readonly message: string }[] {
  const seen = new Set<string>();
  const last = (until: string, field: string) => {
    if (until < file.issued) return [{ field, message: 'That is before it was said.' }];
    if (until < day) return [{ field, message: 'That is over.' }];
    const days = (Date.parse(until) - Date.parse(file.issued)) / 86_400_000;
    return days > MOST_DAYS ? [{ field, message: 'Two years at most after it was said.' }] : [];
  };
  return [
    ...(file.issued > day ? [{ field: 'issued', message: 'That day is to come.' }] : []),
    ...last(file.until, 'until'),
    ...file.measures.flatMap(({ measure, until }, i) => {
      const field = `measures.${i}.measure`;
      const again = seen.has(measure);
      seen.add(measure);
      return [
        ...(again ? [{ field, message: `${measure} stands there twice.` }] : []),
        ...(!measures.has(measure)
          ? [{ field, message: `There is no measure ${measure}.` }]
          : measures.get(measure)?.whose !== 'provider'
            ? [{ field, message: `${measure} is the organisation’s own to do.` }]
            : asked.has(measure)
              ? []
              : [{ field, message: `No assessment of the cycle asks for ${measure}.` }]),
        ...(until === undefined ? [] : last(until, `measures.${i}.until`)),
      ];
    }),
  ];
}

/** What one provider says of a measure now. */
export interface ProviderAnswer {
  readonly provider: string;
  readonly test: 'passed' | 'failed';
  /** The last day on which it counts. */
  readonly until: string;
}

/** What all providers together say: passed where all of them do, for as long as the first of them counts; null without any. */
export function providersSay(
  answers: readonly ProviderAnswer[],
): { readonly test: 'passed' | 'failed'; readonly until: string } | null {
  if (answers.length === 0) return null;
  return {
    test: answers.every((a) => a.test === 'passed') ? 'passed' : 'failed',
    until: answers.map((a) => a.until).reduce((first, until) => (until < first ? until : first)),
  };
}
