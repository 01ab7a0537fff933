import { createHash } from 'node:crypto';
import { RefusedError } from '../../../../core/refusal.ts';
import {
  sentencesOf,
  type DetectorLine,
} from '../../../../core/holdings/detection/detector/detector-sentence.ts';
import { BUILT_INS, builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import type { Finding, NearMiss, Verdict } from '../../../../core/holdings/detection/detector/finding.ts';
import type { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import type { OwnDetector } from '../../../../core/holdings/detection/detector/own-detector.ts';
import type { Context } from '../../../context.ts';
import { TookTooLong } from '../threads/detection-threads.ts';
import { detectorPool } from '../threads/shared-threads.ts';
import type { DetectSetting, TaskResults, TryInput } from '../threads/detection-thread.ts';
import { detectorSetting } from './detector-setting.ts';
import type { Examined } from '../threads/examine.ts';
import { LIMITS, type Limits, type Problem } from '../../../files/extract/extracted.ts';
import type { LikenessSight } from '../likeness/likeness-sight.ts';
import { usedDetectors } from './own-detectors.ts';

const TRIAL_MS = 10_000;
const MOST_TEXT = 400_000;
/** A trial is for looking at, not for reading an archive. */
const TRIAL_LIMITS: Limits = { ...LIMITS, unpackedBytes: 128e6, text: 32e6, parts: 2000 };

export interface Trial {
  /** What was read: the pasted text, or a file’s, cut at some length. */
  readonly text: string;
  readonly kind: string;
  readonly cut: boolean;
  readonly findings: readonly TriedFinding[];
  readonly nearMisses: readonly NearMiss[];
  /** What a detector says of the text as a whole. */
  readonly verdicts: readonly Verdict[];
  readonly problems: readonly Problem[];
  /** The known document it is most like, side by side. */
  readonly likeness: LikenessSight | null;
  /** The words that moved a learned detector’s score most. */
  readonly telling: readonly { readonly word: string; readonly weight: number }[];
  readonly ms: number;
}

export interface TriedFinding extends Finding {
  /** Found by a version that is only rehearsed. */
  readonly rehearsed?: true;
}

export interface ListedDetector {
  readonly id: string;
  readonly name: string;
  readonly category: string;
  readonly country: string;
}

export function listBuiltIn(): readonly ListedDetector[] {
  return builtInDetectors().map(({ id, name, category, country }) => ({ id, name, category, country }));
}

export interface DescribedDetector {
  readonly detector: PatternDetector;
  readonly lines: readonly DetectorLine[];
  /** Texts with the value between ⟦ and ⟧, and texts in which it stays silent. */
  readonly examples: readonly string[];
  readonly counterExamples: readonly string[];
}

/** Throws a RefusedError (404). */
export function describeBuiltIn(id: string): DescribedDetector {
  const detector = findBuiltIn(id);
  const { examples = [], counterExamples = [] } = BUILT_INS.find((b) => b.id === id) ?? {};
  const nameOf = (other: string) => builtInDetectors().find((d) => d.id === other)?.name ?? other;
  return { detector, lines: sentencesOf(detector, nameOf), examples, counterExamples };
}

/** The built-in detector of that name; throws a RefusedError (404). */
export function findBuiltIn(id: string): PatternDetector {
  const found = builtInDetectors().find((d) => d.id === id);
  if (!found)
    throw new RefusedError(
      `There is no detector “${id}”.`,
      [{ field: 'id', message: 'Choose one of the register.' }],
      404,
    );
  return found;
}

/** Tries one detector on a text or a file, as it stands in `only`; without it all that are in force, and those rehearsed. Nothing of the text is kept. */
export async function tryDetectors(
  ctx: Context,
  input: TryInput,
  only: OwnDetector | undefined,
): Promise<Trial> {
  const begun = performance.now();
  try {
    const found = only ? await tryOne(ctx, only, input) : await tryAll(ctx, input);
    return { ...found, ms: Math.round(performance.now() - begun) };
  } catch (error) {
    if (!(error instanceof TookTooLong)) throw error;
    throw new RefusedError('Reading this took too long and was ended.', [
      {
        field: 'text',
        message:
          error.detector === undefined
            ? 'Try a smaller piece of it.'
            : `The pattern did not come to an end at sign ${error.at} of the text. Say it so that no part can be matched in two ways.`,
      },
    ]);
  }
}

async function tryOne(ctx: Context, only: OwnDetector, input: TryInput): Promise<Omit<Trial, 'ms'>> {
  const setting = await detectorSetting(ctx, [{ detector: only, version: 1 }]);
  const { read, examined, likeness, telling } = await run([setting], input, true);
  const [found = NOTHING] = examined;
  const mine = (f: { readonly detector: string }) => f.detector === only.id;
  return {
    ...read,
    problems: [...read.problems, ...found.problems],
    findings: found.findings.filter(mine),
    nearMisses: found.nearMisses.filter(mine),
    verdicts: found.verdicts.filter(mine),
    likeness,
    telling: only.kind === 'learned' ? telling : [],
  };
}

/** Without a detector chosen, what nearly counted everywhere would hide what counts. */
async function tryAll(ctx: Context, input: TryInput): Promise<Omit<Trial, 'ms'>> {
  const used = await usedDetectors(ctx.store);
  const force = used.filter((u) => !u.rehearsed);
  const ids = new Set(force.map((u) => u.detector.id));
  const shipped = builtInDetectors()
    .filter((d) => !ids.has(d.id))
    .map((detector) => ({ detector, version: detector.version }));
  const rehearsed = used.filter((u) => u.rehearsed);
  const settings = [await detectorSetting(ctx, [...shipped, ...force])];
  if (rehearsed.length > 0) settings.push(await detectorSetting(ctx, rehearsed));
  const { read, examined } = await run(settings, input, false);
  const [found = NOTHING, more = NOTHING] = examined;
  const wanted = new Set(rehearsed.map((u) => u.detector.id));
  const tried: TriedFinding[] = [
    ...found.findings,
    ...more.findings.filter((f) => wanted.has(f.detector)).map((f) => ({ ...f, rehearsed: true as const })),
  ];
  return {
    ...read,
    problems: [...read.problems, ...found.problems],
    findings: tried.sort((a, b) => a.start - b.start || a.end - b.end),
    nearMisses: [],
    verdicts: found.verdicts.filter((v) => ids.has(v.detector)),
    likeness: null,
    telling: [],
  };
}

/** Of a file that is read whole. */
const WHOLE_MS = 60_000;
const MOST_WHOLE = 8_000_000;

/**
 * A file’s text with its places, and where the detectors in force find something in it; nothing is kept. Throws a
 * RefusedError where reading takes too long.
 */
export async function readWhole(
  ctx: Context,
  { name, bytes }: { readonly name: string; readonly bytes: Uint8Array },
): Promise<TaskResults['whole']> {
  const force = (await usedDetectors(ctx.store)).filter((u) => !u.rehearsed && u.detector.kind === 'pattern');
  const ids = new Set(force.map((u) => u.detector.id));
  const shipped = builtInDetectors()
    .filter((d) => !ids.has(d.id))
    .map((detector) => ({ detector, version: detector.version }));
  const setting = await detectorSetting(ctx, [...shipped, ...force]);
  try {
    return await detectorPool().run(
      {
        ...{ what: 'whole', name, bytes, most: MOST_WHOLE, limits: TRIAL_LIMITS, options: {} },
        setting: { name: nameOf(setting), setting },
      },
      WHOLE_MS,
    );
  } catch (error) {
    if (error instanceof TookTooLong) throw new RefusedError('Reading this took too long and was ended.');
    throw error;
  }
}

const NOTHING: Pick<Examined, 'findings' | 'nearMisses' | 'verdicts' | 'problems'> = {
  findings: [],
  nearMisses: [],
  verdicts: [],
  problems: [],
};

function run(
  settings: readonly DetectSetting[],
  input: TryInput,
  nearMisses: boolean,
): Promise<TaskResults['try']> {
  return detectorPool().run(
    {
      what: 'try',
      input,
      most: MOST_TEXT,
      limits: TRIAL_LIMITS,
      settings: settings.map((setting) => ({ name: nameOf(setting), setting })),
      options: { nearMisses },
    },
    TRIAL_MS,
  );
}

/** Rosters are told apart by the key of their build, which is new each time. */
function nameOf({ rosters, ...rest }: DetectSetting): string {
  const keys = rosters.map((r) => [r.rules, r.roster.id, Buffer.from(r.key).toString('hex')]);
  return createHash('sha256')
    .update(JSON.stringify([rest, keys]))
    .digest('hex');
}
