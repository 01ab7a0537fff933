import { parentPort, workerData } from 'node:worker_threads';
import { runAccessThread } from '../access/index/access-thread.ts';

if (parentPort) runAccessThread(parentPort, String(workerData));
