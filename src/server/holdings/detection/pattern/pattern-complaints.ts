import type { PatternDetector } from '../../../../core/holdings/detection/detector/detector.ts';
import { builtInDetectors } from '../../../../core/holdings/detection/library/library.ts';
import { endsSoon, hazardOf } from '../../../../core/holdings/detection/pattern/pattern-hazard.ts';
import type { Refusal } from '../../../../core/refusal.ts';
import { NO_DETECTORS, TookTooLong } from '../threads/detection-threads.ts';
import { detectorPool } from '../threads/shared-threads.ts';
import { patternsOf, type PatternAt } from './pattern-compile.ts';
import type { FoundRisk } from './pattern-risk.ts';

type Fields = Refusal['fields'];

/** What keeps a detector from being made ready, by field; empty where nothing does. Found out in a thread. */
export async function compileComplaints(detector: PatternDetector): Promise<Fields> {
  try {
    return await detectorPool().run({ what: 'compile', detector }, COMPILE_MS);
  } catch (error) {
    if (!(error instanceof TookTooLong)) throw error;
    return [
      {
        field: 'anchor',
        message: 'To make this ready takes too long. Say it in fewer words or shorter patterns.',
      },
    ];
  }
}

const COMPILE_MS = 10_000;

let trusted: ReadonlySet<string> | undefined;
const MOST_KNOWN = 2000;
const known = new Map<string, Promise<string | undefined>>();

/** Patterns that `before` had not, and that some input would make run for ever, with that input. */
export async function newRisks(of: PatternDetector, before: PatternDetector | undefined): Promise<Fields> {
  trusted ??= new Set(builtInDetectors().flatMap((d) => patternsOf(d).map((p) => p.pattern)));
  const old = new Set(before ? patternsOf(before).map((p) => p.pattern) : []);
  const fields: { field: string; message: string }[] = [];
  for (const at of patternsOf(of)) {
    if (old.has(at.pattern) || trusted.has(at.pattern)) continue;
    const key = `${at.ignoreCase} ${at.pattern}`;
    const found = known.get(key) ?? riskOf(at);
    if (!known.has(key)) {
      if (known.size >= MOST_KNOWN) known.clear();
      known.set(key, found);
    }
    const message = await found;
    if (message !== undefined) fields.push({ field: at.field, message });
  }
  return fields;
}

const CHECK_MS = 40_000;
const RUN_MS = 2500;

async function riskOf(at: PatternAt): Promise<string | undefined> {
  const hazard = hazardOf(at.pattern);
  if (hazard !== undefined) return hazard;
  if (endsSoon(at.pattern)) return undefined;
  const found = await detectorPool()
    .run({ what: 'risk', pattern: at.pattern, ignoreCase: at.ignoreCase }, CHECK_MS)
    .catch((error: unknown) => {
      if (error instanceof TookTooLong) return 'not found out' as const;
      throw error;
    });
  if (found === 'not found out')
    return 'Whether some text would make this pattern run for ever could not be found out in time. Say it in a shorter way, or bound what may repeat, as in {1,12} for +.';
  if (!found || !(found.exponential || (await hangsOn(at, found)))) return undefined;
  const input =
    found.attack.length > 60
      ? `${JSON.stringify(found.attack.slice(0, 40)).slice(0, -1)}…" (${found.attack.length} characters)`
      : JSON.stringify(found.attack);
  return `This pattern would take for ever on some texts: its time grows in ${found.growth} steps, for example on ${input}. ${found.exponential ? 'Say it so that no part can be matched in two ways.' : 'Bound what may repeat, as in {1,12} for +.'}`;
}

/** Whether our own engine, which looks only where something is to be found, is held up by it. */
async function hangsOn(at: PatternAt, risk: FoundRisk): Promise<boolean> {
  const detector: PatternDetector = {
    kind: 'pattern',
    id: 'tried',
    name: 'tried',
    about: '',
    category: 'own',
    country: '',
    source: '',
    version: 1,
    anchor: { by: 'pattern', pattern: at.pattern, ignoreCase: at.ignoreCase },
    start: 0,
    checks: [],
    context: [],
    exclude: { values: [], patterns: [] },
    atLeast: 1,
    keepFrom: 0.5,
    competes: false,
    mask: 'all',
  };
  const setting = { ...NO_DETECTORS, detectors: [detector] };
  try {
    await detectorPool().run(
      { what: 'with', name: at.pattern, setting, texts: [{ text: risk.attack, segments: [] }], options: {} },
      RUN_MS,
    );
    return false;
  } catch (error) {
    if (error instanceof TookTooLong) return true;
    throw error;
  }
}
