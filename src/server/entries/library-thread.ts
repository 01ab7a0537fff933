import { parentPort, workerData } from 'node:worker_threads';
import { readInThread, type LibraryInput } from '../websites/known-tracker-file.ts';

parentPort?.postMessage(readInThread(workerData as LibraryInput));
