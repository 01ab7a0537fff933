import { parentPort, workerData } from 'node:worker_threads';
import { LedgerVerifier } from '../../core/evidence/ledger.ts';
import { complaintOf } from '../../core/evidence/witness.ts';
import type { ToVerifier } from '../evidence/verify.ts';

/** Takes batches of ledger lines and of records, answers each with `next`, and `end` with the verification. */
const verifier = new LedgerVerifier((workerData as { noted?: string }).noted);
let complaint: string | undefined;
parentPort?.on('message', (message: ToVerifier) => {
  if (message.say === 'end') {
    const verification = verifier.end();
    const why = verification.why ?? complaint;
    return parentPort?.postMessage({ ...verification, ok: why === undefined, why });
  }
  if (message.say === 'lines') for (const line of message.lines) verifier.push(line);
  else for (const record of message.records) complaint ??= complaintOf(record);
  parentPort?.postMessage('next');
});
