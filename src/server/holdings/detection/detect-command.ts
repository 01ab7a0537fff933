import { randomBytes } from 'node:crypto';
import { lstat, readdir, readFile, stat } from 'node:fs/promises';
import { cpus } from 'node:os';
import { basename, join, relative } from 'node:path';
import { parseArgs } from 'node:util';
import { bandOf, KEEP_FROM } from '../../../core/holdings/detection/detector/confidence.ts';
import { DetectorId, type PatternDetector } from '../../../core/holdings/detection/detector/detector.ts';
import type { Finding, Stopped } from '../../../core/holdings/detection/detector/finding.ts';
import { builtInDetectors } from '../../../core/holdings/detection/library/library.ts';
import { LIKENESS_FROM } from '../../../core/holdings/detection/likeness/likeness.ts';
import type { Example } from '../../../core/holdings/detection/learned/learned.ts';
import { RosterBuilder, ROSTER_RULES } from '../../../core/holdings/detection/roster/roster.ts';
import { RefusedError } from '../../../core/refusal.ts';
import { DetectPool, TookTooLong } from './threads/detection-threads.ts';
import type { ThreadSetting } from './threads/detection-thread.ts';
import { readDetectorFile } from './detectors/detector-file.ts';
import type { Examined } from './threads/examine.ts';
import type { Problem } from '../../files/extract/extracted.ts';
import { columnNamed, readTable } from '../../files/table-file.ts';

export const DETECT_HELP = `./yare detect PATH… [options]

  Reads files and folders and tells the personal data in them, without the desk or a database.

  --json             a JSON line a finding, then one with the summary (docs/detect.md describes them)
  --reveal           with the clear values; without it they are masked
  --explain          with what each confidence is made of
  --near-misses      with what nearly counted, and what it lacked
  --min N            nothing below this confidence, from 0 to 1 (${KEEP_FROM}, or what a detector asks for)
  --only LIST        only these detectors, by id
  --detectors FILE   detectors of one’s own besides, as the desk exports them
  --no-built-in      only those
  --threads N        files at once (${Math.max(1, Math.min(4, cpus().length))})
  --seconds N        at most so long a file (120)
  --list             tell the detectors there are, and end
  --fail             end with 1 when something is found

  Three other kinds, on the paths named:
  --like FILE        a blank document or template; may be given again. Tells the copies and excerpts of it
    --like-from N    from this measure on (${LIKENESS_FROM})
  --roster TABLE     known records, a CSV file. Tells where they are met
    --key COLUMN     names a record; may be given again (the first column)
    --beside COLUMN  confirms a record; may be given again
    --corroboration N  confirming values that must stand near (0)
  --learn FOLDER     examples; with --against FOLDER, counter-examples. Or one folder that has examples/ and
                     counter-examples/. Learns to tell them apart and says so of each file
    --seed N         the same seed gives the same model (1)
    --cost-alarm N, --cost-miss N  what each error costs (1, 1)

  Ends with 0 when all was read, 2 when it could not begin.
`;

class UsageError extends Error {}

const TEXT = { type: 'string' } as const;
const LIST = { type: 'string', multiple: true } as const;
const FLAG = { type: 'boolean' } as const;

/** Detects from the command line; the exit code. */
export async function detectCommand(args: readonly string[]): Promise<number> {
  try {
    return await run(args);
  } catch (error) {
    const fields =
      error instanceof RefusedError ? error.fields.map((f) => `\n  ${f.field}: ${f.message}`).join('') : '';
    process.stderr.write(
      `${(error as Error).message}${fields}\n${error instanceof UsageError ? `\n${DETECT_HELP}` : ''}`,
    );
    return 2;
  }
}

type Values = ReturnType<typeof readArgs>['values'];

function readArgs(args: readonly string[]) {
  try {
    return parseArgs({
      args: [...args],
      allowPositionals: true,
      options: {
        help: FLAG,
        json: FLAG,
        reveal: FLAG,
        explain: FLAG,
        'near-misses': FLAG,
        min: TEXT,
        only: TEXT,
        detectors: LIST,
        'no-built-in': FLAG,
        threads: TEXT,
        seconds: TEXT,
        list: FLAG,
        fail: FLAG,
        like: LIST,
        'like-from': TEXT,
        roster: LIST,
        key: LIST,
        beside: LIST,
        corroboration: TEXT,
        learn: LIST,
        against: LIST,
        seed: TEXT,
        'cost-alarm': TEXT,
        'cost-miss': TEXT,
      },
    });
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
}

function number(text: string | undefined, name: string, fallback: number, from: number, to: number): number {
  if (text === undefined) return fallback;
  const n = Number(text);
  if (!Number.isFinite(n) || n < from || n > to)
    throw new UsageError(`--${name}: a number from ${from} to ${to}.`);
  return n;
}

async function run(args: readonly string[]): Promise<number> {
  const { values, positionals } = readArgs(args);
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

interface Found {
  readonly path: string;
  /** As it is told: the path that was given, and what lies below it. */
  readonly shown: string;
  readonly size: number;
}

/** Every file below the paths, in order; links are not followed out of a folder. */
async function filesOf(paths: readonly string[]): Promise<readonly Found[]> {
  const files: Found[] = [];
  const walk = async (path: string, shown: string): Promise<void> => {
    const info = await lstat(path);
    if (info.isDirectory())
      for (const name of (await readdir(path)).sort()) await walk(join(path, name), join(shown, name));
    else if (info.isFile()) files.push({ path, shown, size: info.size });
  };
  for (const path of paths) {
    const info = await stat(path).catch(() => undefined);
    if (!info) throw new UsageError(`There is no file or folder “${path}”.`);
    if (info.isDirectory()) await walk(path, path);
    else files.push({ path, shown: path, size: info.size });
  }
  return files;
}

interface Outcome {
  readonly examined: Examined | undefined;
  readonly problems: readonly Problem[];
  readonly stopped: readonly Stopped[];
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

async function likenessOf(values: Values): Promise<ThreadSetting['likeness'][number]> {
  const templates = [];
  for (const file of await filesOf(values.like ?? [])) {
    const { text, problems } = await extractOf(file.path);
    if (text.trim() === '')
      throw new UsageError(
        `“${file.shown}” cannot be a template: ${problems[0]?.words ?? 'it holds no text'}.`,
      );
    templates.push({ name: basename(file.shown), text });
  }
  return {
    id: 'like',
    version: 1,
    templates,
    from: number(values['like-from'], 'like-from', LIKENESS_FROM, 0.05, 1),
  };
}

async function extractOf(path: string) {
  const { extract } = await import('../../files/extract/extract.ts');
  return extract(basename(path), await readFile(path));
}

async function rostersOf(values: Values): Promise<ThreadSetting['rosters']> {
  const key = randomBytes(16);
  const rosters = [];
  for (const [i, path] of (values.roster ?? []).entries()) {
    const table = readTable(await readFile(path));
    const keys = values.key ? values.key.map((k) => columnNamed(table, k)) : [0];
    const corroborating = (values.beside ?? []).map((b) => columnNamed(table, b));
    const id = DetectorId.catch(`roster-${i + 1}`).parse(
      basename(path)
        .replace(/\.[^.]*$/, '')
        .toLowerCase(),
    );
    const builder = new RosterBuilder(
      {
        id,
        name: basename(path),
        version: 1,
        headings: table.headings,
        columns: { keys, corroborating },
        expected: table.rows.length,
      },
      key,
    );
    for (const row of table.rows) builder.add(row);
    rosters.push({
      roster: builder.done(),
      key,
      rules: { ...ROSTER_RULES, corroboration: number(values.corroboration, 'corroboration', 0, 0, 20) },
    });
  }
  return rosters;
}

async function learnedOf(values: Values, report: Report): Promise<ThreadSetting['learned'][number]> {
  const yes = [...(values.learn ?? [])];
  const no = [...(values.against ?? [])];
  if (no.length === 0 && yes.length === 1) {
    const [folder = ''] = yes;
    no.push(join(folder, 'counter-examples'));
    yes[0] = join(folder, 'examples');
  }
  const examples: Example[] = [];
  for (const [folders, positive] of [
    [yes, true],
    [no, false],
  ] as const)
    for (const file of await filesOf(folders)) {
      const { text } = await extractOf(file.path);
      if (text.trim() !== '') examples.push({ name: relative('.', file.path), text, positive });
    }
  const pool = new DetectPool({ detectors: [], rosters: [], likeness: [], learned: [], key: '' }, 1);
  try {
    const costs = {
      falseAlarm: number(values['cost-alarm'], 'cost-alarm', 1, 0.001, 1e6),
      miss: number(values['cost-miss'], 'cost-miss', 1, 0.001, 1e6),
    };
    const training = await pool.run(
      { what: 'train', examples, seed: number(values.seed, 'seed', 1, 0, 2 ** 31), costs },
      600_000,
    );
    report.training(training, examples.length);
    return { id: 'learned', version: 1, model: training.model };
  } finally {
    await pool.close();
  }
}

/** What goes to standard output. */
class Report {
  findings = 0;
  #files = 0;
  #units = 0;
  readonly #byDetector = new Map<string, { findings: number; files: number }>();
  readonly #problems: (Problem & { readonly file: string })[] = [];
  readonly #stopped: (Stopped & { readonly file: string })[] = [];
  readonly #of: ReadonlyMap<string, PatternDetector>;
  readonly #begun = Date.now();

  constructor(
    readonly values: Values,
    detectors: readonly PatternDetector[],
  ) {
    this.#of = new Map(detectors.map((d) => [d.id, d]));
  }

  training(
    t: import('../../../core/holdings/detection/learned/learned.ts').Training,
    examples: number,
  ): void {
    const { judgement: j, warnings, telling, model, mistakes } = t;
    if (this.values.json)
      this.#line({
        learned: {
          examples,
          threshold: model.threshold,
          precision: j.precision,
          recall: j.recall,
          f1: j.f1,
          falseAlarms: j.falseAlarms,
          misses: j.misses,
          warnings,
          telling: telling.slice(0, 20),
          mistakes: mistakes.slice(0, 50),
        },
      });
    else {
      const rate = (r: { value: number; low: number; high: number }) =>
        `${(r.value * 100).toFixed(1)}% (${(r.low * 100).toFixed(0)} to ${(r.high * 100).toFixed(0)})`;
      process.stdout.write(
        `Learned from ${examples} texts. Precision ${rate(j.precision)}, recall ${rate(j.recall)}.\n${warnings.map((w) => `◆ ${w.words}\n`).join('')}`,
      );
    }
  }

  file(file: string, { examined, problems, stopped }: Outcome): void {
    this.#files++;
    for (const p of problems) {
      this.#problems.push({ file, ...p });
      process.stderr.write(`${file}${p.part ? ` (${p.part})` : ''}: ${p.words}\n`);
    }
    for (const s of stopped) {
      this.#stopped.push({ file, ...s });
      process.stderr.write(`${file}: ${s.detector} was stopped at ${s.at}. ${s.why}\n`);
    }
    if (!examined) return;
    this.#units += examined.length;
    const seen = new Set<string>();
    for (const f of examined.findings) {
      this.findings++;
      const known = this.#byDetector.get(f.detector) ?? { findings: 0, files: 0 };
      known.findings++;
      if (!seen.has(f.detector)) known.files++;
      seen.add(f.detector);
      this.#byDetector.set(f.detector, known);
      this.#finding(file, f);
    }
    for (const n of examined.nearMisses) this.#finding(file, n, n.lacked);
    if (this.values.json && (this.values.like || this.values.learn))
      for (const v of examined.verdicts) this.#line({ verdict: { file, ...v } });
  }

  #finding(file: string, f: Finding, lacked?: string): void {
    const of = this.#of.get(f.detector);
    const shown = f.value ?? f.masked;
    if (!this.values.json) {
      const place = Object.entries(f.place)
        .map(([k, v]) => `${k} ${v}`)
        .join(', ');
      process.stdout.write(
        `${file}${place ? ` (${place})` : ''}: ${of?.name ?? f.detector}, ${Math.round(f.confidence * 100)}%${lacked ? `, not counted: ${lacked}` : ''}: ${shown}\n`,
      );
      if (this.values.explain)
        for (const s of f.steps)
          process.stdout.write(`    ${s.steps >= 0 ? '+' : '−'}${Math.abs(s.steps)}  ${s.words}\n`);
      return;
    }
    this.#line({
      ...(lacked === undefined ? {} : { near_miss: lacked }),
      file,
      place: f.place,
      detector: f.detector,
      ...(of ? { name: of.name, category: of.category, country: of.country } : {}),
      start: f.start,
      end: f.end,
      confidence: Number(f.confidence.toFixed(4)),
      band: bandOf(f.confidence),
      masked: f.masked,
      ...(f.heading === undefined ? {} : { heading: f.heading }),
      ...(this.values.reveal && f.value !== undefined ? { value: f.value } : {}),
      ...(this.values.explain ? { steps: f.steps } : {}),
    });
  }

  end(): void {
    const seconds = (Date.now() - this.#begun) / 1000;
    const detectors = Object.fromEntries([...this.#byDetector].sort((a, b) => b[1].findings - a[1].findings));
    if (this.values.json) {
      this.#line({
        summary: {
          files: this.#files,
          characters: this.#units,
          findings: this.findings,
          detectors,
          problems: this.#problems,
          stopped: this.#stopped,
          seconds,
        },
      });
      return;
    }
    process.stdout.write(
      `${this.findings} findings in ${this.#files} files, ${seconds.toFixed(1)} s.${this.#problems.length > 0 ? ` ${this.#problems.length} could not be read whole.` : ''}\n`,
    );
  }

  #line(value: unknown): void {
    process.stdout.write(`${JSON.stringify(value)}\n`);
  }
}
