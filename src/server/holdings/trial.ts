import { createHash } from 'node:crypto';
import { RefusedError } from '../../core/refusal.ts';
import { sentencesOf, type DetectorLine } from '../../core/holdings/detector-sentence.ts';
import { explainScore } from '../../core/holdings/learned.ts';
import { BUILT_INS, builtInDetectors } from '../../core/holdings/library.ts';
import {
  bestLikeness,
  likenessTemplate,
  matchedInTemplate,
  type LikenessPart,
} from '../../core/holdings/likeness.ts';
import type { Finding, NearMiss, Verdict } from '../../core/holdings/finding.ts';
import type { PatternDetector } from '../../core/holdings/detector.ts';
import type { OwnDetector } from '../../core/holdings/own-detector.ts';
import type { Context } from '../context.ts';
import { TookTooLong } from './detect-pool.ts';
import { detectorPool } from './detector-pool.ts';
import type { DetectSetting } from './detect-thread.ts';
import { detectorSetting } from './detector-setting.ts';
import type { Examined } from './examine.ts';
import type { Extracted, Problem } from './extract/extracted.ts';
import { usedDetectors } from './own-detectors.ts';

const TRIAL_MS = 10_000;
const MOST_TEXT = 400_000;

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

export interface LikenessSight {
  readonly template: string;
  readonly measure: number;
  readonly how: 'copy' | 'excerpt';
  readonly from: number;
  readonly templateText: string;
  readonly inTemplate: readonly LikenessPart[];
  readonly inText: readonly LikenessPart[];
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

type TrialInput = { readonly text: string } | { readonly name: string; readonly bytes: Buffer };

/** Tries one detector on a text or a file, as it stands in `only`; without it all that are in force, and those rehearsed. Nothing of the text is kept. */
export async function tryDetectors(
  ctx: Context,
  input: TrialInput,
  only: OwnDetector | undefined,
): Promise<Trial> {
  const begun = performance.now();
  try {
    const extracted: Extracted =
      'text' in input
        ? { text: input.text, segments: [], problems: [], kind: 'plain text' }
        : await detectorPool().run({ what: 'extract', bytes: input.bytes, name: input.name }, TRIAL_MS);
    const cut = extracted.text.length > MOST_TEXT;
    const text = extracted.text.slice(0, MOST_TEXT);
    const segments = cut ? extracted.segments.filter((s) => s.end <= MOST_TEXT) : extracted.segments;
    const document = { text, segments };
    const found = only ? await tryOne(ctx, only, document) : await tryAll(ctx, document);
    return {
      text,
      kind: extracted.kind,
      cut,
      ...found,
      problems: extracted.problems,
      ms: Math.round(performance.now() - begun),
    };
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

type Found = Pick<Trial, 'findings' | 'nearMisses' | 'verdicts' | 'likeness' | 'telling'>;

async function tryOne(ctx: Context, only: OwnDetector, document: Document): Promise<Found> {
  const setting = await detectorSetting(ctx, [{ detector: only, version: 1 }]);
  const examined = await run(setting, document, true);
  const mine = (f: { readonly detector: string }) => f.detector === only.id;
  const model = setting.learned[0]?.model;
  return {
    findings: examined.findings.filter(mine),
    nearMisses: examined.nearMisses.filter(mine).slice(0, 200),
    verdicts: examined.verdicts.filter(mine),
    likeness: sightOf(setting, document.text),
    telling: only.kind === 'learned' && model ? explainScore(model, document.text) : [],
  };
}

/** Without a detector chosen, what nearly counted everywhere would hide what counts. */
async function tryAll(ctx: Context, document: Document): Promise<Found> {
  const used = await usedDetectors(ctx.store);
  const force = used.filter((u) => !u.rehearsed);
  const ids = new Set(force.map((u) => u.detector.id));
  const shipped = builtInDetectors()
    .filter((d) => !ids.has(d.id))
    .map((detector) => ({ detector, version: detector.version }));
  const examined = await run(await detectorSetting(ctx, [...shipped, ...force]), document, false);
  const rehearsed = used.filter((u) => u.rehearsed);
  const tried: TriedFinding[] = [...examined.findings];
  if (rehearsed.length > 0) {
    const wanted = new Set(rehearsed.map((u) => u.detector.id));
    const more = await run(await detectorSetting(ctx, rehearsed), document, false);
    for (const f of more.findings) if (wanted.has(f.detector)) tried.push({ ...f, rehearsed: true });
    tried.sort((a, b) => a.start - b.start || a.end - b.end);
  }
  return {
    findings: tried,
    nearMisses: [],
    verdicts: examined.verdicts.filter((v) => ids.has(v.detector)),
    likeness: null,
    telling: [],
  };
}

interface Document {
  readonly text: string;
  readonly segments: Extracted['segments'];
}

async function run(setting: DetectSetting, document: Document, nearMisses: boolean): Promise<Examined> {
  // Rosters are told apart by the key of their build, which is new each time.
  const { rosters, ...rest } = setting;
  const name = createHash('sha256')
    .update(
      JSON.stringify([rest, rosters.map((r) => [r.rules, r.roster.id, Buffer.from(r.key).toString('hex')])]),
    )
    .digest('hex');
  const [examined] = await detectorPool().run(
    { what: 'with', name, setting, texts: [document], options: { nearMisses } },
    TRIAL_MS,
  );
  return examined as Examined;
}

function sightOf(setting: DetectSetting, text: string): LikenessSight | null {
  const [of] = setting.likeness;
  if (!of) return null;
  const best = bestLikeness(
    of.templates.map((t) => likenessTemplate(t.name, t.text)),
    text,
  );
  const templateText = of.templates.find((t) => t.name === best?.template)?.text;
  if (!best || templateText === undefined || best.parts.length === 0) return null;
  return {
    template: best.template,
    measure: best.measure,
    how: best.how,
    from: of.from,
    templateText,
    inTemplate: matchedInTemplate(templateText, text),
    inText: best.parts,
  };
}
