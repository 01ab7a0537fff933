import { existsSync } from 'node:fs';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Verification } from '../../core/evidence/ledger.ts';
import { projectFolder } from '../process.ts';
import type { Queries } from '../store/pool.ts';
import { exportLedger } from './ledger.ts';

/** Lines handed to the thread at once; it answers each batch, so that neither side runs ahead. */
const BATCH = 2000;

/** Recomputes every sealed tree and the chain of heads from what is stored now, in a thread of its own. */
export async function verifyWhole(store: Queries, at: Date): Promise<Verification> {
  const file = join(projectFolder(), 'dist', 'verify-thread.mjs');
  if (!existsSync(file)) throw new Error('dist/verify-thread.mjs is missing: build first.');
  const thread = new Worker(file);
  try {
    let batch: string[] = [];
    for await (const line of exportLedger(store, at)) {
      if (batch.push(JSON.stringify(line)) < BATCH) continue;
      await answer(thread, batch);
      batch = [];
    }
    await answer(thread, batch);
    return (await answer(thread, 'end')) as Verification;
  } finally {
    await thread.terminate();
  }
}

function answer(thread: Worker, message: readonly string[] | 'end'): Promise<unknown> {
  return new Promise((resolve, reject) => {
    thread.once('message', resolve);
    thread.once('error', reject);
    thread.postMessage(message);
  });
}
