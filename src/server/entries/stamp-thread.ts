import { parentPort, workerData } from 'node:worker_threads';
import { stampInThread, type StampTask } from '../protection/stamp-thread.ts';

if (parentPort) parentPort.postMessage(stampInThread(workerData as StampTask));
