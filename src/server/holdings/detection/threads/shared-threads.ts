import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { projectFolder } from '../../../processes/process.ts';
import { DetectPool } from './detection-threads.ts';

const THREADS = 2;
const MEMORY_MB = 2048;

let shared: DetectPool | undefined;

/** The threads in which this process reads texts and files for the desk. */
export function detectorPool(): DetectPool {
  if (!shared) {
    const file = join(projectFolder(), 'dist', 'detect-thread.mjs');
    if (!existsSync(file)) throw new Error('dist/detect-thread.mjs is missing: build first.');
    shared = DetectPool.forTasks(THREADS, MEMORY_MB, file);
  }
  return shared;
}
