import { z } from 'zod';
import type { Framework } from '../../../core/obligations/framework/framework.ts';
import { together, type ControlStanding, type Tally } from '../../../core/obligations/readiness/readiness.ts';
import { providersSay } from '../../../core/obligations/work/provider-file.ts';
import { NEW_WORK, type MeasureWork } from '../../../core/obligations/work/measure-work.ts';
import { notFound } from '../../../core/refusal.ts';
import type { Context } from '../../context.ts';
import { Count } from '../../store/columns.ts';
import type { FrameworkLibrary } from '../library/framework-library.ts';
import {
  assessAll,
  countedIn,
  nextIn,
  readinessIn,
  readStanding,
  whoseOf,
  type Assessed,
  type LiveTest,
  type Standing,
} from '../standing.ts';
import { workKey } from '../work/measure-work-object.ts';

/** An assessment as the register lists it. */
export interface ListedAssessment {
  readonly id: number;
  readonly cycle: string;
  readonly cycleId: number;
  readonly name: string;
  readonly tally: Tally;
  readonly failed: number;
  /** A newer version of its framework ships. */
  readonly newer: string | null;
}

export async function listAssessments(ctx: Context): Promise<readonly ListedAssessment[]> {
  const standing = await readStanding(ctx.store, ctx.now());
  return assessAll(standing).map((a) => ({
    ...{ id: a.assessment.id, cycle: a.assessment.cycle, cycleId: a.assessment.cycleId },
    name: a.assessment.framework.name,
    tally: a.readiness.tally,
    failed: failedIn(a),
    newer: newerThan(standing.library, a.assessment),
  }));
}

/** Measures of it whose test failed. */
const failedIn = ({ readiness }: Assessed) =>
  new Set(
    readiness.controls.flatMap((c) =>
      c.measures.flatMap((m) => (m.applies && m.why === 'test failed' ? [m.id] : [])),
    ),
  ).size;

/** Nothing where it was said that it is not taken. */
function newerThan(
  library: FrameworkLibrary,
  { framework: { id, version }, content }: Assessed['assessment'],
): string | null {
  const newest = library.framework(id)?.version;
  if (newest === undefined || newest <= version) return null;
  return content.newer?.take === 'never' && content.newer.version === newest ? null : newest;
}

/** A measure as a list shows it. */
export interface ListedMeasure {
  readonly key: string;
  readonly id: string;
  readonly name: string;
  readonly hours: number;
  readonly whose: 'ours' | 'provider';
  readonly state: MeasureWork['state'];
  readonly owner: number | null;
  readonly due: string | null;
  /** By the program, a person, or by what providers say. */
  readonly testedBy: 'program' | 'person' | 'provider';
  readonly test: 'passed' | 'failed' | null;
  readonly live: LiveTest | null;
}

export function listedMeasure(standing: Standing, cycle: number, id: string): ListedMeasure {
  const measure = standing.library.measures.get(id);
  if (!measure) throw notFound('measure');
  const work = standing.work.get(cycle)?.get(id) ?? NEW_WORK;
  const live = measure.test ? (standing.live.get(id) ?? null) : null;
  const said =
    measure.whose === 'provider' ? providersSay(standing.providers.get(cycle)?.get(id) ?? []) : null;
  return {
    ...{ key: workKey(cycle, id), id, name: measure.name, hours: measure.hours, whose: measure.whose },
    ...{ state: work.state, owner: work.owner, due: work.due },
    testedBy: measure.test ? 'program' : said ? 'provider' : 'person',
    test: measure.test ? (live?.test ?? null) : (said?.test ?? work.test),
    live,
  };
}

export interface NextView extends ListedMeasure {
  /** In parts of a point, over all assessments of the cycle. */
  readonly gain: number;
  /** Where it counts: “GDPR 30, 24”. */
  readonly serves: readonly { readonly framework: string; readonly refs: readonly string[] }[];
  /** Families of this assessment in which it counts. */
  readonly families: readonly string[];
}

export interface AssessmentView extends ListedAssessment {
  readonly framework: Pick<Framework, 'id' | 'name' | 'title' | 'version' | 'families' | 'covers' | 'whole'>;
  readonly families: readonly {
    readonly id: string;
    readonly name: string;
    readonly tally: Tally;
    readonly failed: number;
  }[];
  readonly controls: readonly ControlView[];
  readonly next: readonly NextView[];
  /** Points, a day each, oldest first; in parts. */
  readonly days: readonly { readonly day: string; readonly given: number; readonly applicable: number }[];
  /** Measures by who tests them: those that passed of all that apply. */
  readonly tests: { readonly program: Counted; readonly person: Counted; readonly nobody: number };
  /** How far it would be by the newest version of its framework; null where it is held against that. */
  readonly newerTally: Tally | null;
  /** When it is to be taken, where that was said. */
  readonly newerOn: string | null;
  readonly startedAt: string;
}

interface Counted {
  readonly passed: number;
  readonly of: number;
}

export interface ControlView {
  readonly id: string;
  readonly family: string;
  readonly ref: string;
  readonly name: string;
  readonly guidance: string;
  readonly duty: string;
  readonly kind: string;
  readonly risk: number;
  readonly applies: boolean;
  readonly points: number;
  readonly given: number;
  readonly measures: readonly (ListedMeasure &
    Pick<ControlStanding['measures'][number], 'gives' | 'why' | 'share'>)[];
}

const MOST_NEXT = 60;

/** Throws a RefusedError (404). */
export async function viewAssessment(ctx: Context, id: number): Promise<AssessmentView> {
  const standing = await readStanding(ctx.store, ctx.now());
  const cycle = standing.assessments.find((a) => a.id === id)?.cycleId;
  if (cycle === undefined) throw notFound('assessment');
  const inCycle = assessAll(standing, cycle);
  const found = inCycle.find((a) => a.assessment.id === id);
  if (!found) throw notFound('assessment');
  const { assessment, readiness } = found;
  const { framework, cycleId } = assessment;
  const days = await ctx.store.all(
    z.object({ day: z.string(), given: Count, applicable: Count }),
    "SELECT DATE_FORMAT(day, '%Y-%m-%d') AS day, given, applicable FROM assessment_day WHERE assessment_id = ? ORDER BY day",
    [id],
  );
  const mine = new Set(framework.controls.flatMap((c) => c.measures));
  const applying = [
    ...new Map(
      readiness.controls.flatMap((c) => c.measures.filter((m) => m.applies).map((m) => [m.id, m] as const)),
    ).values(),
  ].map((m) => ({ ...m, live: standing.library.measures.get(m.id)?.test !== undefined }));
  const counted = (live: boolean): Counted => {
    const of = applying.filter((m) => m.live === live && m.why !== 'not tested');
    return { passed: of.filter((m) => m.gives).length, of: of.length };
  };
  return {
    ...{ id, cycle: assessment.cycle, cycleId, name: framework.name, startedAt: assessment.startedAt },
    ...{
      tally: readiness.tally,
      failed: failedIn(found),
      newer: newerThan(standing.library, assessment),
      days,
    },
    framework,
    families: framework.families.flatMap((f) => {
      const controls = readiness.controls.filter((c) => c.control.family === f.id);
      const tally = readiness.families.get(f.id);
      return tally
        ? [{ ...f, tally, failed: failedIn({ assessment, readiness: { ...readiness, controls } }) }]
        : [];
    }),
    controls: readiness.controls.map(({ control, applies, points, tally, measures }) => ({
      ...{ id: control.id, family: control.family, ref: control.ref, name: control.name },
      ...{ guidance: control.guidance, duty: control.duty, kind: control.kind, risk: control.risk },
      ...{ applies, points, given: tally.given },
      measures: measures.map((m) => ({
        ...listedMeasure(standing, cycleId, m.id),
        ...{ gives: m.gives, why: m.why, share: m.share },
      })),
    })),
    next: nextIn(standing, inCycle)
      .filter((n) => mine.has(n.measure.id))
      .slice(0, MOST_NEXT)
      .map((n) => ({
        ...listedMeasure(standing, cycleId, n.measure.id),
        gain: n.gain,
        serves: servedBy(inCycle, n.serves),
        families: [
          ...new Set(
            framework.controls.filter((c) => c.measures.includes(n.measure.id)).map((c) => c.family),
          ),
        ],
      })),
    newerTally: newerTally(standing, assessment),
    newerOn: assessment.content.newer?.take === 'on a day' ? assessment.content.newer.on : null,
    tests: {
      ...{ program: counted(true), person: counted(false) },
      nobody: applying.filter((m) => m.why === 'not tested').length,
    },
  };
}

function newerTally(standing: Standing, assessment: Assessed['assessment']): Tally | null {
  const { library } = standing;
  if (newerThan(library, assessment) === null) return null;
  const framework = library.framework(assessment.framework.id);
  if (!framework) return null;
  const work = countedIn(standing, assessment.cycleId);
  return readinessIn({ ...assessment, framework }, work, whoseOf(standing), standing).tally;
}

export function servedBy(
  inCycle: readonly Assessed[],
  serves: readonly { readonly assessment: number; readonly control: string }[],
): NextView['serves'] {
  return inCycle.flatMap(({ assessment: { framework } }, i) => {
    const refs = serves
      .filter((s) => s.assessment === i)
      .flatMap((s) => framework.controls.find((c) => c.id === s.control)?.ref ?? []);
    return refs.length === 0 ? [] : [{ framework: framework.name, refs }];
  });
}

/** Of all assessments of a cycle together: what serves several is done once, and counts in each. */
export function cycleTally(assessed: readonly Assessed[]): Tally {
  return together(assessed.map((a) => a.readiness.tally));
}
