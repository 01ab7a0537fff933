import { parentPort, workerData } from 'node:worker_threads';
import { runLensThread } from '../holdings/items/index/lens-thread.ts';
import { RetentionAnswers } from '../retention/rehearsal/retention-answers.ts';

if (parentPort)
  runLensThread(parentPort, String(workerData), new Map([['retention', new RetentionAnswers()]]));
