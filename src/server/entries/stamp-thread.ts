import { parentPort, workerData } from 'node:worker_threads';
import { stampInThread, type StampTask } from '../protection/stamp-thread.ts';

const port = parentPort;
if (port) void stampInThread(workerData as StampTask).then((answer) => port.postMessage(answer));
