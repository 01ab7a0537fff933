import { parentPort, workerData } from 'node:worker_threads';
import { readInThread, type LibraryInput } from '../websites/library/known-tracker-file.ts';

parentPort?.postMessage(readInThread(workerData as LibraryInput));
