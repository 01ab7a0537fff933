import { parentPort, workerData } from 'node:worker_threads';
import { runThread } from '../holdings/detect-thread.ts';

if (parentPort) runThread(parentPort, workerData);
