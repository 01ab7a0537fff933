import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { mkdir, readdir, readFile, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { pathToFileURL } from 'node:url';
import { build as esbuild, type BuildOptions } from 'esbuild';
import { LauncherError } from './launcher-error.ts';
import { PROJECT, say } from './project.ts';
import { run } from './run.ts';

const DIST = join(PROJECT, 'dist');
/** Holds the fingerprint of what the last whole build was made of. */
const MARK = join(DIST, 'built');

/** Processes and other programs, a file each; packages stay outside. */
export const PROGRAMS: BuildOptions = {
  entryPoints: {
    web: join(PROJECT, 'src/server/entries/web.ts'),
    visitor: join(PROJECT, 'src/server/entries/visitor.ts'),
    worker: join(PROJECT, 'src/server/entries/worker.ts'),
    intake: join(PROJECT, 'src/server/entries/intake.ts'),
    sweep: join(PROJECT, 'src/server/entries/sweep.ts'),
    detect: join(PROJECT, 'src/server/entries/detect.ts'),
    stamp: join(PROJECT, 'src/server/entries/stamp.ts'),
    retention: join(PROJECT, 'src/server/entries/retention.ts'),
    reach: join(PROJECT, 'src/server/entries/reach.ts'),
    estate: join(PROJECT, 'src/server/entries/estate.ts'),
    readiness: join(PROJECT, 'src/server/entries/readiness.ts'),
    framework: join(PROJECT, 'src/server/entries/framework.ts'),
    'detect-thread': join(PROJECT, 'src/server/entries/detect-thread.ts'),
    'library-thread': join(PROJECT, 'src/server/entries/library-thread.ts'),
    'verify-thread': join(PROJECT, 'src/server/entries/verify-thread.ts'),
    'stamp-thread': join(PROJECT, 'src/server/entries/stamp-thread.ts'),
    'lens-thread': join(PROJECT, 'src/server/entries/lens-thread.ts'),
    'access-thread': join(PROJECT, 'src/server/entries/access-thread.ts'),
    standins: join(PROJECT, 'standins/entry.ts'),
    'bench-sweep': join(PROJECT, 'bench/sweep.ts'),
    'bench-blind': join(PROJECT, 'bench/blind.ts'),
    'bench-visitor': join(PROJECT, 'bench/visitor.ts'),
    'bench-records': join(PROJECT, 'bench/records.ts'),
    'bench-intake': join(PROJECT, 'bench/intake.ts'),
    'bench-activity': join(PROJECT, 'bench/activity.ts'),
    'bench-handling': join(PROJECT, 'bench/handling.ts'),
    'bench-detect': join(PROJECT, 'bench/detect.ts'),
    'bench-desk': join(PROJECT, 'bench/desk.ts'),
    'bench-survey': join(PROJECT, 'bench/survey.ts'),
    'bench-explorer': join(PROJECT, 'bench/explorer.ts'),
    'bench-find': join(PROJECT, 'bench/find.ts'),
    'bench-stamp': join(PROJECT, 'bench/stamp.ts'),
    'bench-retention': join(PROJECT, 'bench/retention.ts'),
    'bench-access': join(PROJECT, 'bench/access.ts'),
    'bench-obligations': join(PROJECT, 'bench/obligations.ts'),
  },
  outdir: DIST,
  outExtension: { '.js': '.mjs' },
  bundle: true,
  platform: 'node',
  format: 'esm',
  target: 'node20',
  packages: 'external',
  sourcemap: 'linked',
  logLevel: 'silent',
};

/** What visitors' browsers get. */
export const VISITOR_SCRIPTS: BuildOptions = {
  entryPoints: {
    notice: join(PROJECT, 'src/visitor/main.ts'),
    preview: join(PROJECT, 'src/visitor/preview.ts'),
    'tcf-stub': join(PROJECT, 'src/visitor/tcf-stub.ts'),
  },
  outdir: join(DIST, 'visitor'),
  bundle: true,
  minify: true,
  format: 'iife',
  target: ['chrome100', 'firefox102', 'safari16'],
  logLevel: 'silent',
};

/** What stands before the first of them where a site needs it. */
export const VISITOR_HELD: BuildOptions = {
  ...VISITOR_SCRIPTS,
  entryPoints: { holds: join(PROJECT, 'src/visitor/holds.ts') },
  globalName: 'YARE_HELD',
};

/** What the first of them loads when it is needed, a module each. */
export const VISITOR_PART: BuildOptions = {
  ...VISITOR_SCRIPTS,
  entryPoints: {
    panel: join(PROJECT, 'src/visitor/panel.ts'),
    tcf: join(PROJECT, 'src/visitor/tcf.ts'),
  },
  format: 'esm',
};

/** The agent of the stand-in device, for its page. */
const STANDIN_DEVICE: BuildOptions = {
  ...VISITOR_SCRIPTS,
  entryPoints: { device: join(PROJECT, 'standins/device/screen.ts') },
  outdir: join(DIST, 'standin-device'),
  format: 'esm',
  target: ['chrome137'],
};

/** Builds what changed since the last build, and nothing when nothing did. */
export async function build(): Promise<void> {
  const print = await fingerprint();
  if (await isBuilt(print)) return;
  say('Building …');
  await mkdir(DIST, { recursive: true });
  const [desk] = await Promise.all([
    run(join(PROJECT, 'node_modules/.bin/astro'), ['build', '--silent']),
    buildPrograms(),
    // In a process of its own: it reads all types, and the build goes on beside it.
    describe(),
  ]);
  if (desk.code !== 0)
    throw new LauncherError(`The desk could not be built:\n${desk.output.split('\n').slice(-30).join('\n')}`);
  await writeFile(MARK, print);
}

async function describe(): Promise<void> {
  const { code, output } = await run(process.execPath, [
    '--import',
    pathToFileURL(join(PROJECT, 'node_modules/tsx/dist/esm/index.mjs')).href,
    join(PROJECT, 'launcher/describe-entry.ts'),
    DIST,
  ]);
  if (code !== 0) throw new LauncherError(`The endpoints could not be described:\n${output}`);
}

async function isBuilt(print: string): Promise<boolean> {
  return existsSync(MARK) && (await readFile(MARK, 'utf8')) === print;
}

/** Everything but the desk; or only the programs named, for commands that need no other. */
export async function buildPrograms(only?: readonly string[]): Promise<void> {
  if (!only) {
    await Promise.all([
      esbuild(PROGRAMS),
      esbuild(VISITOR_SCRIPTS),
      esbuild(VISITOR_HELD),
      esbuild(VISITOR_PART),
      esbuild(STANDIN_DEVICE),
    ]);
    return;
  }
  // Processes that run from there are left their files.
  if (await isBuilt(await fingerprint())) return;
  const entries = PROGRAMS.entryPoints as Record<string, string>;
  await esbuild({
    ...PROGRAMS,
    entryPoints: Object.fromEntries(only.map((name) => [name, entries[name] as string])),
  });
}

async function fingerprint(): Promise<string> {
  const hash = createHash('sha256');
  for (const folder of [
    'src',
    'standins',
    'bench',
    'docs',
    'astro.config.ts',
    'package-lock.json',
    'tsconfig.json',
    'launcher/build.ts',
    'launcher/describe.ts',
    'launcher/answer-schema.ts',
  ])
    await add(hash, join(PROJECT, folder));
  return hash.digest('hex');
}

async function add(hash: ReturnType<typeof createHash>, path: string): Promise<void> {
  const entries = await readdir(path, { withFileTypes: true }).catch(() => undefined);
  if (!entries) return void hash.update(path).update(await readFile(path));
  for (const entry of entries.sort((a, b) => (a.name < b.name ? -1 : 1)))
    if (!/\.test\.tsx?$|^screenshots$/.test(entry.name)) await add(hash, join(path, entry.name));
}
