import { parentPort, workerData } from 'node:worker_threads';
import { runThread } from '../holdings/detection/threads/detection-thread.ts';

if (parentPort) runThread(parentPort, workerData);
