import type { PatternDetector } from '../../core/holdings/detector.ts';
import { Engine } from '../../core/holdings/engine.ts';
import { builtInDetectors } from '../../core/holdings/library.ts';
import type { Refusal } from '../../core/refusal.ts';
import { NO_DETECTORS, TookTooLong } from './detect-pool.ts';
import { detectorPool } from './detector-pool.ts';
import type { FoundRisk } from './pattern-risk.ts';

type Fields = Refusal['fields'];

/** What keeps a detector from being made ready, by field; empty where nothing does. */
export function compileComplaint(of: PatternDetector): Fields {
  const patterns = patternsOf(of).flatMap(({ field, pattern }) => {
    try {
      new RegExp(pattern, 'u');
      return [];
    } catch (error) {
      return [
        { field, message: `${(error as Error).message.replace(/^Invalid regular expression: /, '')}.` },
      ];
    }
  });
  if (patterns.length > 0) return patterns;
  try {
    new Engine([of]);
    return [];
  } catch (error) {
    return [{ field: 'anchor', message: (error as Error).message }];
  }
}

interface PatternAt {
  readonly field: string;
  readonly pattern: string;
  readonly ignoreCase: boolean;
}

function patternsOf(of: PatternDetector): readonly PatternAt[] {
  const plain = (field: string, pattern: string, ignoreCase = false) => ({ field, pattern, ignoreCase });
  return [
    ...(of.anchor.by === 'pattern' ? [plain('anchor.pattern', of.anchor.pattern, of.anchor.ignoreCase)] : []),
    ...(of.anchor.by !== 'function' && of.anchor.field
      ? [
          plain(
            'anchor.field.pattern',
            of.anchor.field.pattern,
            of.anchor.by === 'words' || of.anchor.ignoreCase,
          ),
        ]
      : []),
    ...(of.anchor.by === 'words' && of.anchor.pattern !== undefined
      ? [plain('anchor.pattern', of.anchor.pattern, true)]
      : []),
    ...of.checks.flatMap((c, i) =>
      c.check === 'does not match' ? [plain(`checks.${i}.pattern`, c.pattern)] : [],
    ),
    ...of.context.flatMap((c, i) =>
      c.pattern === undefined ? [] : [plain(`context.${i}.pattern`, c.pattern, true)],
    ),
    ...of.exclude.patterns.map((p, i) => plain(`exclude.patterns.${i}`, p)),
  ];
}

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
  const risk = await detectorPool()
    .run({ what: 'risk', pattern: at.pattern, ignoreCase: at.ignoreCase }, CHECK_MS)
    .catch((error: unknown) => {
      // What could not be checked in time runs under a budget like all others.
      if (error instanceof TookTooLong) return undefined;
      throw error;
    });
  if (!risk || !(risk.exponential || (await hangsOn(at, risk)))) return undefined;
  const input =
    risk.attack.length > 60
      ? `${JSON.stringify(risk.attack.slice(0, 40)).slice(0, -1)}…" (${risk.attack.length} characters)`
      : JSON.stringify(risk.attack);
  return `This pattern would take for ever on some texts: its time grows in ${risk.growth} steps, for example on ${input}. ${risk.exponential ? 'Say it so that no part can be matched in two ways.' : 'Bound what may repeat, as in {1,12} for +.'}`;
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
