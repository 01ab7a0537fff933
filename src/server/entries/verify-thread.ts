import { parentPort } from 'node:worker_threads';
import { LedgerVerifier } from '../../core/evidence/ledger.ts';

/** Takes batches of ledger lines, answers each with `next`, and `end` with the verification. */
const verifier = new LedgerVerifier();
parentPort?.on('message', (message: readonly string[] | 'end') => {
  if (message === 'end') return parentPort?.postMessage(verifier.end());
  for (const line of message) verifier.push(line);
  parentPort?.postMessage('next');
});
