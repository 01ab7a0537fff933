import { parentPort, workerData } from 'node:worker_threads';
import { runLensThread } from '../holdings/items/index/lens-thread.ts';

if (parentPort) runLensThread(parentPort, String(workerData));
