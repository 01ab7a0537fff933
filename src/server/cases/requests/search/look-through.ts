import { builtInDetectors } from '../../../../core/holdings/offers.ts';
import { proposeCovers, type PersonalSpan } from '../../../../core/cases/requests/covers/propose-covers.ts';
import { reduceDocument, type Reading } from '../../../../core/cases/requests/covers/reading.ts';
import {
  recognise,
  type ReadDocument,
  type Sureness,
} from '../../../../core/cases/requests/person/recognise.ts';
import { learnedValues, type LearnedValue } from '../../../../core/cases/requests/person/learned.ts';
import type { Subject, Trait } from '../../../../core/cases/requests/person/subject.ts';
import { traitOf } from '../../../../core/cases/requests/person/traits-of.ts';
import type { Context } from '../../../context.ts';
import { readWhole } from '../../../holdings/offers.ts';

/** What of a file is about somebody. */
export interface LookedThrough {
  readonly sure: Sureness;
  readonly by: readonly Trait[];
  readonly bearer: string;
  readonly reading: Reading;
  readonly people: number;
  readonly rowsTheirs: number;
  readonly rowsLeft: number;
  readonly format: string;
  /** What rows that are theirs tell of them besides. */
  readonly learned: readonly LearnedValue[];
}

const categories = new Map(builtInDetectors().map((d) => [d.id, d.category]));

/** A file as people are recognised in it. */
export async function readDocument(
  ctx: Context,
  file: { readonly name: string; readonly bytes: Uint8Array },
): Promise<
  ReadDocument & {
    readonly personal: readonly PersonalSpan[];
    readonly kind: string;
    readonly problem: string;
  }
> {
  const { text, segments, found, kind, problems, cut } = await readWhole(ctx, file);
  const personal = found.map((f) => ({ ...f, category: categories.get(f.detector) ?? '' }));
  return {
    ...{ text, segments, personal, kind },
    found: personal.flatMap(({ detector, category, start, end }) => {
      const trait = traitOf(detector, category);
      return trait ? [{ trait, start, end }] : [];
    }),
    splits: /^(?:mbox|ZIP|tar)/i.test(kind) || /mailbox/i.test(kind),
    problem: cut
      ? 'it is longer than can be read at once'
      : kind === 'nothing'
        ? (problems[0]?.words ?? 'it cannot be read')
        : '',
  };
}

/** Looks for somebody in a file; `undefined` where nothing tells of them. Throws an Error with why it cannot be read. */
export async function lookThrough(
  ctx: Context,
  subject: Subject,
  file: { readonly name: string; readonly bytes: Uint8Array },
): Promise<LookedThrough | undefined> {
  const document = await readDocument(ctx, file);
  if (document.problem !== '') throw new Error(document.problem);
  const whole = recognise(subject, document);
  if (whole.sure === undefined || whole.sure === 'namesake') return undefined;
  const reduced = reduceDocument(document, whole);
  const recognised = recognise(subject, reduced);
  const personal = document.personal.flatMap((p) => {
    const [start, last] = [reduced.at(p.start), reduced.at(p.end - 1)];
    return start === undefined || last === undefined ? [] : [{ ...p, start, end: last + 1 }];
  });
  const proposal = proposeCovers(subject, reduced, recognised, personal);
  const surest = whole.parts.find((p) => p.sure === whole.sure);
  return {
    learned: learnedValues(subject, document, whole),
    ...{ sure: whole.sure, by: whole.by, bearer: surest?.bearer ?? '' },
    reading: {
      text: reduced.text,
      segments: reduced.segments.map(({ start, end, heading, record, place }) => ({
        ...{ start, end },
        ...(heading === undefined ? {} : { heading }),
        ...(record === undefined ? {} : { record }),
        ...(place.page === undefined ? {} : { page: place.page }),
        ...(place.part === undefined ? {} : { part: place.part }),
        ...(place.sheet === undefined ? {} : { sheet: place.sheet }),
      })),
      own: recognised.own.map(({ start, end }) => ({ start, end })),
      covers: [...proposal.covers],
      doubts: [...proposal.doubts],
      ...{ bearer: surest?.bearer ?? '', why: surest?.why ?? '' },
    },
    ...{
      people: proposal.others,
      rowsTheirs: reduced.rowsTheirs,
      rowsLeft: reduced.rowsLeft,
      format: document.kind,
    },
  };
}
