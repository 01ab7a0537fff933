import { mkdtemp, readdir, readFile, rm } from 'node:fs/promises';
import { tmpdir } from 'node:os';
import { join, relative } from 'node:path';
import { build } from './build.ts';
import { LauncherError } from './launcher-error.ts';
import { installPrerequisites } from './prerequisites.ts';
import { PROJECT, say } from './project.ts';
import { run } from './run.ts';

/** What a run without a name has. */
const USUAL = ['unit', 'integration', 'attack', 'end-to-end'] as const;
/** `long` takes an hour and more: its own tests, and every property tried far more often. Only run by its name. */
const KINDS = [...USUAL, 'long'] as const;
type Kind = (typeof KINDS)[number];

interface Tally {
  readonly passed: number;
  readonly failed: number;
  /** What failed, by name. */
  readonly names?: readonly string[];
}

const bin = (name: string) => join(PROJECT, 'node_modules/.bin', name);

const CHECKS: readonly {
  readonly name: string;
  readonly program: string;
  readonly args: readonly string[];
}[] = [
  { name: 'types', program: bin('tsc'), args: ['--noEmit', '-p', '.'] },
  { name: 'types of pages', program: bin('astro'), args: ['check', '--minimumSeverity', 'error'] },
  { name: 'lint', program: bin('eslint'), args: ['.', '--max-warnings', '0'] },
  { name: 'format', program: bin('prettier'), args: ['--check', '--log-level', 'warn', '.'] },
];

const isKind = (name: string): name is Kind => KINDS.includes(name as Kind);

/**
 * Every check; or the named kinds of tests only, or those of an area or a file, by a part of their path. Ends with one
 * line `N passed, N failed`.
 */
export async function test(names: readonly string[]): Promise<number> {
  const parts = names.filter((n) => !isKind(n));
  const files = parts.length ? await testFiles() : [];
  const unknown = parts.find((p) => !files.some((f) => f.includes(p)));
  if (unknown)
    throw new LauncherError(
      `There are no “${unknown}” tests. There are: ${KINDS.join(', ')}; areas, such as websites; and files.`,
    );
  const kinds = names.some(isKind) ? names.filter(isKind) : USUAL;
  await installPrerequisites({
    mariadb: kinds.some((k) => k !== 'unit'),
    chromium: kinds.some((k) => k !== 'unit'),
    servers: kinds.includes('integration'),
  });
  const tallies: Tally[] = [];
  if (names.length === 0)
    // None of them keeps two cores busy by itself.
    tallies.push(
      ...(await inTurn(
        CHECKS.filter((_, i) => i % 2 === 0).map((check) => () => runCheck(check)),
        CHECKS.filter((_, i) => i % 2 === 1).map((check) => () => runCheck(check)),
      )),
    );
  if (kinds.some((k) => k !== 'unit')) tallies.push(await buildCheck());
  const runsOf = (...which: readonly Kind[]) =>
    kinds.filter((k) => which.includes(k)).map((kind) => () => runTests(kind, parts));
  tallies.push(...(await inTurn(runsOf('unit'))));
  // Whole paths wait much of the time, for a browser or for the hour.
  tallies.push(...(await inTurn(runsOf('integration', 'attack'), runsOf('end-to-end'))));
  tallies.push(...(await inTurn(runsOf('long'))));
  if (names.includes('long')) {
    const longer = (kind: Kind, files: readonly string[]) =>
      runTests(kind, parts.length > 0 ? parts : files, { YARE_LONG: 'yes' });
    tallies.push(
      await longer('unit', await propertyTests()),
      await longer('integration', ['holdings/fuzz.test.ts']),
    );
  }
  const passed = tallies.reduce((n, t) => n + t.passed, 0);
  const failed = tallies.reduce((n, t) => n + t.failed, 0);
  for (const name of tallies.flatMap((t) => t.names ?? [])) say(`◆ ${name}`);
  say(`${passed} passed, ${failed} failed`);
  return failed === 0 ? 0 : 1;
}

/** Each lane one after the other, the lanes side by side. */
async function inTurn(...lanes: readonly (readonly (() => Promise<Tally>)[])[]): Promise<readonly Tally[]> {
  const done = await Promise.all(
    lanes.map(async (lane) => {
      const tallies: Tally[] = [];
      for (const one of lane) tallies.push(await one());
      return tallies;
    }),
  );
  return done.flat();
}

async function runCheck({ name, program, args }: (typeof CHECKS)[number]): Promise<Tally> {
  const { code, output } = await run(program, args, {
    env: { ...process.env, ASTRO_TELEMETRY_DISABLED: '1' },
  });
  say(`${code === 0 ? '✓' : '◆'} ${name}`);
  if (code !== 0) say(output.split('\n').slice(-60).join('\n'));
  return code === 0 ? { passed: 1, failed: 0 } : { passed: 0, failed: 1, names: [name] };
}

async function buildCheck(): Promise<Tally> {
  try {
    await build();
    say('✓ build');
    return { passed: 1, failed: 0 };
  } catch (error) {
    say(`◆ build\n${(error as Error).message}`);
    return { passed: 0, failed: 1, names: ['build'] };
  }
}

async function testFiles(): Promise<readonly string[]> {
  const folders = ['src', 'tests', 'launcher', 'standins'];
  const all = await Promise.all(
    folders.map(async (f) => (await readdir(join(PROJECT, f), { recursive: true })).map((n) => `${f}/${n}`)),
  );
  return all.flat().filter((n) => /\.test\.tsx?$/.test(n));
}

/** Unit tests that hold a property against random input. */
async function propertyTests(): Promise<readonly string[]> {
  const files = (await testFiles()).filter((f) => !f.startsWith('tests/'));
  const texts = await Promise.all(files.map((f) => readFile(join(PROJECT, f), 'utf8')));
  return files.filter((_, i) => texts[i]?.includes('fast-check'));
}

/** A run that crashes before it counts anything counts as one failure. */
async function runTests(
  kind: Kind,
  parts: readonly string[],
  more: Readonly<Record<string, string>> = {},
): Promise<Tally> {
  const folder = await mkdtemp(join(tmpdir(), 'yare-report-'));
  const file = join(folder, 'report.json');
  try {
    const { code } = await run(
      bin('vitest'),
      [
        'run',
        ...parts,
        '--project',
        kind,
        '--passWithNoTests',
        '--reporter=default',
        '--reporter=json',
        `--outputFile.json=${file}`,
      ],
      { echo: true, env: { ...process.env, NO_COLOR: '1', ...more } },
    );
    const report = JSON.parse(await readFile(file, 'utf8').catch(() => '{}')) as {
      numPassedTests?: number;
      numFailedTests?: number;
      testResults?: readonly {
        readonly name: string;
        readonly status: string;
        readonly assertionResults?: readonly { readonly status: string; readonly fullName: string }[];
      }[];
    };
    const passed = report.numPassedTests ?? 0;
    const failed = report.numFailedTests ?? 0;
    const names = (report.testResults ?? [])
      .filter((f) => f.status === 'failed')
      .flatMap(({ name, assertionResults = [] }) => {
        const at = relative(PROJECT, name);
        const tests = assertionResults.filter((t) => t.status === 'failed');
        return tests.length > 0 ? tests.map((t) => `${at}: ${t.fullName}`) : [`${at}: the file itself`];
      });
    if (code !== 0 && names.length === 0) names.push(`${kind}: ended with ${code}`);
    return { passed, failed: code !== 0 && failed === 0 ? 1 : failed, names };
  } finally {
    await rm(folder, { recursive: true, force: true });
  }
}
