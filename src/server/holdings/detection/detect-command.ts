import { readFile } from 'node:fs/promises';
import { cpus } from 'node:os';
import { basename } from 'node:path';
import { KEEP_FROM } from '../../../core/holdings/detection/detector/confidence.ts';
import type { PatternDetector } from '../../../core/holdings/detection/detector/detector.ts';
import type { Stopped } from '../../../core/holdings/detection/detector/finding.ts';
import { builtInDetectors } from '../../../core/holdings/detection/library/library.ts';
import { DetectPool, TookTooLong } from './threads/detection-threads.ts';
import type { ThreadSetting } from './threads/detection-thread.ts';
import { readDetectorFile } from './detectors/detector-file.ts';
import { asCommand, UsageError } from '../../processes/command.ts';
import { DETECT_HELP, detectArgs, type Values, number } from './detect-args.ts';
import { type Found, filesOf } from './detect-files.ts';
import { type Outcome, Report } from './detect-report.ts';
import { likenessOf, rostersOf, learnedOf } from './detect-made.ts';

/** Detects from the command line; the exit code. */
export function detectCommand(args: readonly string[]): Promise<number> {
  return asCommand(DETECT_HELP, () => run(args));
}

async function run(args: readonly string[]): Promise<number> {
  const { values, positionals } = detectArgs(args);
  if (values.help) {
    process.stdout.write(DETECT_HELP);
    return 0;
  }
  const detectors = await detectorsOf(values);
  if (values.list) {
    for (const d of detectors)
      process.stdout.write(
        values.json
          ? `${JSON.stringify({ id: d.id, name: d.name, category: d.category, country: d.country, source: d.source })}\n`
          : `${d.id.padEnd(34)} ${d.name}\n`,
      );
    return 0;
  }
  if (positionals.length === 0 && !values.learn) throw new UsageError('Name the files or folders to read.');
  const files = await filesOf(positionals);
  const otherKind = Boolean(values.like || values.roster || values.learn);
  const plain = { rosters: [], likeness: [], learned: [], key: '' };
  const threads = number(values.threads, 'threads', Math.max(1, Math.min(4, cpus().length)), 1, 64);
  const ms = number(values.seconds, 'seconds', 120, 1, 86_400) * 1000;
  const report = new Report(values, detectors);
  const setting: Omit<ThreadSetting, 'watch'> = {
    ...plain,
    detectors: otherKind ? [] : detectors,
    likeness: values.like ? [await likenessOf(values)] : [],
    rosters: values.roster ? await rostersOf(values) : [],
    learned: values.learn ? [await learnedOf(values, report)] : [],
  };
  const pool = new DetectPool(setting, threads);
  try {
    // Findings come out in the order of the files, however many are read at once.
    let last = Promise.resolve();
    const reading: Promise<void>[] = [];
    for (const file of files) {
      const result = examine(pool, file, setting.detectors, values, ms);
      last = last.then(async () => report.file(file.shown, await result));
      reading.push(last);
      if (reading.length > threads * 4) await reading[reading.length - threads * 4 - 1];
    }
    await last;
  } finally {
    await pool.close();
  }
  report.end();
  return values.fail && report.findings > 0 ? 1 : 0;
}

async function detectorsOf(values: Values): Promise<readonly PatternDetector[]> {
  const own: PatternDetector[] = [];
  for (const file of values.detectors ?? []) own.push(...readDetectorFile(await readFile(file, 'utf8')));
  const ids = new Set(own.map((d) => d.id));
  const all = [...(values['no-built-in'] ? [] : builtInDetectors().filter((d) => !ids.has(d.id))), ...own];
  const min = values.min === undefined ? undefined : number(values.min, 'min', KEEP_FROM, 0.001, 0.999);
  const only = values.only?.split(',').map((s) => s.trim());
  for (const id of only ?? [])
    if (!all.some((d) => d.id === id))
      throw new UsageError(`There is no detector “${id}”. --list tells which there are.`);
  return all
    .filter((d) => !only || only.includes(d.id))
    .map((d) => (min === undefined ? d : { ...d, keepFrom: min }));
}

/** Reads a file; a detector that never ends is left out and the file read again. */
async function examine(
  pool: DetectPool,
  file: Found,
  detectors: readonly PatternDetector[],
  values: Values,
  ms: number,
): Promise<Outcome> {
  const without: number[] = [];
  const stopped: Stopped[] = [];
  for (;;) {
    try {
      const examined = await pool.run(
        {
          what: 'file',
          path: file.path,
          name: basename(file.path),
          options: {
            reveal: Boolean(values.reveal),
            nearMisses: Boolean(values['near-misses']),
            without,
            budgetMs: ms / 2,
          },
        },
        ms + file.size / 5e4,
      );
      return { examined, problems: examined.problems, stopped: [...stopped, ...examined.stopped] };
    } catch (error) {
      const { detector, at } = error instanceof TookTooLong ? error : { detector: undefined, at: 0 };
      const of = detector === undefined ? undefined : detectors[detector];
      if (detector === undefined || !of || without.length >= 5)
        return {
          examined: undefined,
          problems: [
            {
              part: '',
              kind: error instanceof TookTooLong ? 'cut short' : 'damaged',
              words: (error as Error).message,
            },
          ],
          stopped,
        };
      without.push(detector);
      stopped.push({
        detector: of.id,
        at,
        why: 'Its pattern did not come to an end and was left out of this file',
      });
    }
  }
}
