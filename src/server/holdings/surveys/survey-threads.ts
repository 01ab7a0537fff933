import { createHash } from 'node:crypto';
import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { cpus } from 'node:os';
import { projectFolder } from '../../processes/process.ts';
import { DetectPool } from '../detection/threads/detection-threads.ts';
import type { DetectSetting } from '../detection/threads/detection-thread.ts';

/** Threads of one process for surveys; they take a while to start, so the latest ones stay. */
const THREADS = Math.max(1, Math.min(4, cpus().length));
const MEMORY_MB = 2048;
const POOLS = 2;

const pools = new Map<string, { readonly pool: DetectPool; using: number }>();

/** Works with threads that read with these detectors. */
export async function withSurveyThreads<T>(
  force: DetectSetting,
  rehearsed: DetectSetting | undefined,
  work: (pool: DetectPool) => Promise<T>,
): Promise<T> {
  const name = settingName(force, rehearsed);
  const known = pools.get(name);
  const used = known ?? {
    pool: new DetectPool({ ...force, rehearsed }, THREADS, MEMORY_MB, program()),
    using: 0,
  };
  // The latest used is last.
  pools.delete(name);
  pools.set(name, used);
  used.using++;
  for (const [old, { pool, using }] of pools)
    if (pools.size > POOLS && using === 0) {
      pools.delete(old);
      await pool.close();
    }
  try {
    return await work(used.pool);
  } finally {
    used.using--;
  }
}

/** Ends the threads of this process; those that are needed again start anew. */
export async function closeSurveyThreads(): Promise<void> {
  const all = [...pools.values()];
  pools.clear();
  await Promise.all(all.map(({ pool }) => pool.close()));
}

function program(): string {
  const file = join(projectFolder(), 'dist', 'detect-thread.mjs');
  if (!existsSync(file)) throw new Error('dist/detect-thread.mjs is missing: build first.');
  return file;
}

const names = new WeakMap<DetectSetting, string>();

/** Rosters are told apart by the key of their build, which is new each time. */
function settingName(force: DetectSetting, rehearsed: DetectSetting | undefined): string {
  const known = names.get(force);
  if (known !== undefined) return known;
  const parts = [force, rehearsed].map((s) => {
    if (!s) return null;
    const { rosters, detectors, learned, ...rest } = s;
    return [
      rest,
      detectors,
      learned.map((l) => [l.id, l.version, l.model.threshold]),
      rosters.map((r) => [r.rules, r.roster.id, Buffer.from(r.key).toString('hex')]),
    ];
  });
  const name = createHash('sha256').update(JSON.stringify(parts)).digest('hex');
  names.set(force, name);
  return name;
}
