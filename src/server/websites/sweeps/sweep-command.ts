import { mkdtemp, open, readFile, rm, writeFile } from 'node:fs/promises';
import { isIP } from 'node:net';
import { lookup } from 'node:dns/promises';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { asCommand, readArgs, UsageError } from '../../processes/command.ts';
import { createHash } from 'node:crypto';
import { isPublicAddress } from '../../../core/address.ts';
import {
  readClickPath,
  stepLines,
  type ClickPath,
  type SitePaths,
} from '../../../core/websites/sweeps/click-path.ts';
import { FIRST_LIBRARY, TrackerLibrary } from '../../../core/websites/trackers/known-tracker.ts';
import { proposeAll } from '../../../core/websites/trackers/proposal.ts';
import { FIRST_PURPOSES } from '../../../core/websites/notice/purpose.ts';
import { REGION_PATTERN, UNKNOWN_REGION } from '../../../core/websites/notice/region.ts';
import { Scope } from '../../../core/websites/sweeps/scope.ts';
import { sweepReport, type SweepReport } from '../../../core/websites/sweeps/sweep-report.ts';
import { VISITORS, type Visitor } from '../../../core/websites/trackers/visitor.ts';
import { readKnownTrackers } from '../library/known-tracker-file.ts';
import { checkSite, readAddress } from '../sites/site-check.ts';
import type { DestinationRules } from '../../http/allowed-destination.ts';
import { visitsFolder } from '../crawl/browser/confinement.ts';
import { joinSightings } from '../crawl/collector.ts';
import type { CrawlResult } from '../crawl/crawl-plan.ts';
import { SWEEP_HELP } from './sweep-help.ts';
import { PathError } from '../crawl/visit/click-path-player.ts';
import type { SwitchFound } from '../crawl/sweep-switches.ts';
import type { NoticeReading } from '../../../core/websites/reading/notice-reading.ts';
import { trackerKey } from '../../../core/websites/trackers/tracker.ts';
import { sweepSite, type SiteProgress } from '../crawl/sweep-site.ts';

const PAGES_A_LINE = 10;

const TEXT = { type: 'string' } as const;
const LIST = { type: 'string', multiple: true } as const;

const ARGS = {
  allowPositionals: true,
  options: {
    json: TEXT,
    visitors: TEXT,
    region: TEXT,
    chosen: TEXT,
    pages: TEXT,
    minutes: TEXT,
    depth: TEXT,
    'per-shape': TEXT,
    pace: TEXT,
    tabs: TEXT,
    dns: TEXT,
    include: LIST,
    exclude: LIST,
    start: LIST,
    'no-sitemap': { type: 'boolean' },
    'no-robots': TEXT,
    library: TEXT,
    'sign-in': TEXT,
    'path-accept': TEXT,
    'path-refuse': TEXT,
    'path-choose': TEXT,
    help: { type: 'boolean', short: 'h' },
  },
} as const;

/** Runs one sweep from the command line; the exit code. */
export function sweepCommand(args: readonly string[]): Promise<number> {
  return asCommand(SWEEP_HELP, () => run(args));
}

async function run(args: readonly string[]): Promise<number> {
  const { values, positionals } = readArgs(args, ARGS);
  const [address] = positionals;
  if (values.help) {
    process.stdout.write(SWEEP_HELP);
    return 0;
  }
  const typed = readAddress(address ?? '');
  if (!typed || positionals.length !== 1) throw new UsageError('Give the address of one website.');
  const visitors = list(values.visitors, VISITORS, 'visitors') ?? VISITORS;
  const chosen = chosenPurposes(values.chosen ?? 'measurement');
  const region = values.region ?? UNKNOWN_REGION;
  if (!REGION_PATTERN.test(region)) throw new UsageError('--region looks like DK or US-CA.');
  const scope = Scope.parse({
    maxPages: number(values.pages, 'pages') ?? 250,
    maxMinutes: number(values.minutes, 'minutes') ?? 30,
    maxDepth: number(values.depth, 'depth') ?? 12,
    perShape: number(values['per-shape'], 'per-shape') ?? null,
    paceMs: number(values.pace, 'pace') ?? 0,
    include: values.include ?? [],
    exclude: values.exclude ?? [],
    startPaths: values.start ?? [],
    sitemap: !values['no-sitemap'],
    robotsOverride: values['no-robots'] ?? '',
  });
  const files = {
    signIn: await pathIn('sign-in', values['sign-in']),
    accept: await pathIn('path-accept', values['path-accept']),
    refuse: await pathIn('path-refuse', values['path-refuse']),
    choose: await pathIn('path-choose', values['path-choose']),
  };
  const paths: SitePaths = {
    signIn: files.signIn.steps,
    accept: files.accept.steps,
    refuse: files.refuse.steps,
    choose: files.choose.steps,
  };
  if (values.json && values.json !== '-') await refuseUnwritable(values.json);
  const library = new TrackerLibrary([
    ...(values.library ? readKnownTrackers(values.library, await readFile(values.library)) : []),
    ...FIRST_LIBRARY,
  ]);
  const rules: DestinationRules = { privateAllowed: new Set(), anyPrivate: await isPrivate(typed.hostname) };
  const check = await checkSite(typed.href, rules);
  if (!check.ok) throw new Error(`${typed.href} cannot be swept. ${check.why} ${check.fix}`);
  const start = new URL(check.url);
  const startedAt = new Date();
  const results: CrawlResult[] = [];
  const profiles = await mkdtemp(join(tmpdir(), 'yare-sweep-'));
  let stuck: PathError | undefined;
  let reading: NoticeReading | null = null;
  let switches: readonly SwitchFound[] = [];
  const stop = new AbortController();
  for (const signal of ['SIGINT', 'SIGTERM'] as const) process.once(signal, () => stop.abort('cancelled'));
  const quiet = !process.stderr.isTTY;
  let told = '';
  /** A line for each visitor and every ten pages of it. */
  const toldInLines = (p: SiteProgress) => {
    const at = p.doing ?? `${p.visitor} ${Math.floor(p.pages / PAGES_A_LINE)}`;
    if (at === told) return;
    told = at;
    process.stderr.write(`${progressWords(p)}\n`);
  };
  try {
    await sweepSite(
      {
        startUrl: start.href,
        scope,
        visitors,
        region,
        chosen,
        paths,
        tabs: number(values.tabs, 'tabs') ?? 2,
        executable: process.env['CHROMIUM'] || '/usr/bin/chromium',
        profiles,
        rules,
        nameServer: values.dns ?? process.env['DNS_SERVER'],
        service: undefined,
        notice: { kept: null, library },
      },
      stop.signal,
      (p) => {
        if (quiet) toldInLines(p);
        else process.stderr.write(`\r${progressWords(p).padEnd(60)}`);
      },
      {
        visitor: (result) => {
          results.push(result);
          return Promise.resolve(result.pages.some((p) => p.status !== null) || !result.couldChoose);
        },
        reading: (found) => {
          reading = found;
          return Promise.resolve();
        },
        switches: (found) => {
          switches = found;
          return Promise.resolve();
        },
      },
    );
  } catch (error) {
    // What was found before a step of a path could not be done is kept, and told.
    if (!(error instanceof PathError)) throw error;
    stuck = error;
  } finally {
    for (const folder of [profiles, visitsFolder(profiles)])
      await rm(folder, { recursive: true, force: true, maxRetries: 5 }).catch(() => {});
  }
  if (!quiet) process.stderr.write('\n');
  const state = stop.signal.aborted ? 'cancelled' : stuck || results.length === 0 ? 'failed' : 'complete';
  if (stuck)
    process.stderr.write(
      `◆ ${files[stuck.path].at(stuck.step)}, as visitor ${stuck.visitor ?? '?'}: ${stuck.message}\n`,
    );
  const report = reportOf(
    start,
    startedAt,
    state,
    { results, reading, switches },
    { region, chosen },
    library,
  );
  const text = `${JSON.stringify(report, null, 2)}\n`;
  if (values.json === '-') process.stdout.write(text);
  else if (values.json) await writeFile(values.json, text);
  const toldOn = values.json === '-' ? process.stderr : process.stdout;
  toldOn.write(summary(report));
  const reached = results.some((r) => r.pages.some((p) => p.status !== null && p.status < 400));
  if (!reached || stop.signal.aborted) return 2;
  const code = sweepExit(report);
  return stuck && code === 0 ? 3 : code;
}

/** 0 when all was tried and nothing leaks, 1 when something leaks, 3 when nothing was seen to and not all could be tried. */
export function sweepExit({ counts, visitors }: Pick<SweepReport, 'counts' | 'visitors'>): 0 | 1 | 3 {
  if (counts.leaks > 0) return 1;
  return visitors.every((v) => v.tried && !v.incomplete) ? 0 : 3;
}

function reportOf(
  start: URL,
  startedAt: Date,
  state: SweepReport['state'],
  found: {
    readonly results: readonly CrawlResult[];
    readonly reading: NoticeReading | null;
    readonly switches: readonly SwitchFound[];
  },
  terms: { region: string; chosen: readonly string[] },
  library: TrackerLibrary,
): SweepReport {
  const { switches } = found;
  const results = VISITORS.flatMap((v) => found.results.filter((r) => r.visitor === v));
  const trackers = joinSightings(results.map((r) => r.sightings));
  const keys = switches.map((s) => new Set(s.trackers.map(trackerKey)));
  const ranWith = trackers.map((t) => switches.filter((_, i) => keys[i]?.has(trackerKey(t))));
  const proposals = proposeAll(trackers, (t) => ({
    known: library.find(t),
    chosen: terms.chosen,
    ranWith:
      switches.length > 0 ? { with: ranWith[trackers.indexOf(t)] ?? [], tried: switches.length } : undefined,
  }));
  return sweepReport({
    site: start.host,
    startUrl: start.href,
    startedAt,
    finishedAt: new Date(),
    state,
    terms,
    purposes: FIRST_PURPOSES,
    visitors: results.map((r) => ({
      visitor: r.visitor,
      tried: r.couldChoose,
      incomplete: r.incomplete,
      operated: r.operated,
      pages: r.pages.map((p) => ({ ...p })),
      picture: r.picture ? createHash('sha256').update(r.picture).digest('hex') : null,
    })),
    notes: results.flatMap((r) => [
      ...r.notes.map((words) => ({ visitor: r.visitor, words })),
      ...(r.couldChoose ? [] : [{ visitor: r.visitor, words: r.whyNot }]),
    ]),
    reading: found.reading,
    switches: switches.map(({ trackers: _trackers, ...s }) => s),
    trackers: trackers.map((tracker, i) => ({
      tracker,
      decided: null,
      proposal: proposals[i] as (typeof proposals)[number],
      ranWith: (ranWith[i] ?? []).map((s) => s.words),
    })),
  });
}

function progressWords(p: SiteProgress): string {
  return (
    p.doing ?? `visitor ${p.visitor} of ${p.visitors}, page ${p.pages} of ${p.known}, ${p.trackers} trackers`
  );
}

/** How the notice was read, a line for each choice. */
function noticeLines({ notice, switches }: SweepReport): readonly string[] {
  if (!notice) return [];
  const roles = (['accept', 'refuse', 'choose'] as const).map((choice) => {
    const role = notice[choice];
    return `○ notice: ${choice} by ${role ? `${role.way}: ${role.why}` : 'nothing that it offers'}`;
  });
  return [...roles, ...switches.map((s) => `○ switch “${s.words}”: ${s.purpose ?? 'unsorted'}`)];
}

function summary(report: SweepReport): string {
  const { counts } = report;
  const lines = [
    `${report.site}: ${counts.pages} pages, ${counts.trackers} trackers, ${counts.leaks} leaks, ${counts.presumed} more unless they are essential, ${counts.unsorted} not sorted (${report.region}, ${report.regime})`,
    ...noticeLines(report),
    ...report.notes.map((n) => `○ ${n.visitor ? `${n.visitor}: ` : ''}${n.words}`),
    ...report.trackers
      .filter((t) => t.leaks.length > 0)
      .map((t) => `◆ ${t.kind} ${t.name} of ${t.host}, ${t.purpose ?? 'unsorted'}: ${t.leaks.join(', ')}`),
    ...report.trackers
      .filter((t) => t.leaks.length === 0 && t.presumed.length > 0)
      .map(
        (t) =>
          `◈ ${t.kind} ${t.name} of ${t.host}, unsorted: ${t.presumed.join(', ')}, unless it is essential`,
      ),
  ];
  // Names come from the site: nothing in them may steer a terminal.
  return `${lines.map((l) => l.replace(/\p{Cc}/gu, '�')).join('\n')}\n`;
}

function number(text: string | undefined, name: string): number | undefined {
  if (text === undefined) return undefined;
  if (!/^\d+$/.test(text)) throw new UsageError(`--${name} takes a whole number.`);
  return Number(text);
}

function list(text: string | undefined, allowed: readonly Visitor[], name: string): Visitor[] | undefined {
  if (text === undefined) return undefined;
  const given = text.split(',').map((t) => t.trim());
  const wrong = given.find((g) => !(allowed as readonly string[]).includes(g));
  if (wrong !== undefined || given.length === 0)
    throw new UsageError(`--${name} takes some of ${allowed.join(', ')}; “${wrong ?? ''}” is none.`);
  return allowed.filter((v) => given.includes(v));
}

interface PathFile {
  readonly steps: ClickPath;
  /** Where a step stands, for who has to mend it: `--path-refuse: refuse.txt, line 3`. */
  readonly at: (step: number) => string;
}

/** A recorded path in a file. Throws an Error that names the option, the file and the line. */
async function pathIn(option: string, file: string | undefined): Promise<PathFile> {
  if (file === undefined) return { steps: [], at: () => `--${option}` };
  try {
    const text = await readFile(file, 'utf8');
    const lines = stepLines(text);
    return {
      steps: readClickPath(text),
      at: (step) => `--${option}: ${file}, line ${lines[step - 1] ?? step}`,
    };
  } catch (error) {
    throw new Error(`--${option}: ${file}: ${(error as Error).message}`, { cause: error });
  }
}

/** Throws an Error where a report could not be written, before anything is swept for it. */
async function refuseUnwritable(file: string): Promise<void> {
  try {
    await (await open(file, 'a')).close();
  } catch (error) {
    throw new Error(`--json: “${file}” cannot be written: ${(error as Error).message}`, { cause: error });
  }
}

/** Codes or names of purposes, in any case. Throws a UsageError for one that there is not. */
export function chosenPurposes(text: string): readonly string[] {
  return text
    .split(',')
    .map((t) => t.trim())
    .filter((t) => t !== '')
    .map((t) => {
      const wanted = t.toLowerCase();
      const found = FIRST_PURPOSES.find((p) => p.code === wanted || p.name.toLowerCase() === wanted);
      if (!found)
        throw new UsageError(
          `--chosen takes some of ${FIRST_PURPOSES.map((p) => p.code).join(', ')}; “${t}” is none.`,
        );
      return found.code;
    });
}

/** Whoever sweeps from the command line may sweep their own machine and network. */
async function isPrivate(hostname: string): Promise<boolean> {
  const host = hostname.replace(/^\[|\]$/g, '');
  if (host === 'localhost' || host.endsWith('.localhost')) return true;
  if (isIP(host)) return !isPublicAddress(host);
  const found = await lookup(host, { all: true }).catch(() => []);
  return found.some((f) => !isPublicAddress(f.address));
}
