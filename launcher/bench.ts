import { spawn } from 'node:child_process';
import { join } from 'node:path';
import { build } from './build.ts';
import { LauncherError } from './launcher-error.ts';
import { freePorts } from './free-port.ts';
import { findProgram, installPrerequisites } from './prerequisites.ts';
import { PROJECT } from './project.ts';

const BENCHES = [
  'sweep',
  'blind',
  'visitor',
  'records',
  'intake',
  'detect',
  'desk',
  'survey',
  'explorer',
  'find',
  'stamp',
  'retention',
  'access',
  'obligations',
  'handling',
  'activity',
] as const;
/** Those that need a database. */
const STORED: readonly string[] = [
  'desk',
  'records',
  'intake',
  'survey',
  'explorer',
  'find',
  'retention',
  'obligations',
  'activity',
];

/** Figures, one JSON line each, side by side in one run. */
export async function bench(name: string | undefined): Promise<number> {
  const names = name === undefined ? BENCHES : BENCHES.filter((b) => b === name);
  if (names.length === 0)
    throw new LauncherError(`There is no bench “${name}”. There are: ${BENCHES.join(', ')}.`);
  await installPrerequisites({
    mariadb: names.some((n) => STORED.includes(n)),
    chromium: names.some((n) => ['sweep', 'blind', 'visitor'].includes(n)),
  });
  await build();
  const [port = 0] = await freePorts(1);
  const env = { ...process.env, BENCH_PORT: String(port), CHROMIUM: findProgram('chromium') ?? '' };
  for (const b of names) {
    const code = await new Promise<number>((ended) =>
      spawn(process.execPath, [join(PROJECT, 'dist', `bench-${b}.mjs`)], { stdio: 'inherit', env }).on(
        'close',
        (c) => ended(c ?? 1),
      ),
    );
    if (code !== 0) return code;
  }
  return 0;
}
