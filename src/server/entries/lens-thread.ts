import { parentPort, workerData } from 'node:worker_threads';
import { ExposureAnswers } from '../access/index/exposure-answers.ts';
import { runLensThread } from '../holdings/items/index/lens-thread.ts';
import { RetentionAnswers } from '../retention/rehearsal/retention-answers.ts';
import type { AreaAnswers } from '../holdings/offers.ts';

if (parentPort)
  runLensThread(
    parentPort,
    String(workerData),
    new Map<string, AreaAnswers>([
      ['retention', new RetentionAnswers()],
      ['access', new ExposureAnswers()],
    ]),
  );
