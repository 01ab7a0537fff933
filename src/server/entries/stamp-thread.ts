import { parentPort, workerData } from 'node:worker_threads';
import { stampInThread, type ThreadTask } from '../protection/stamp-thread.ts';

const port = parentPort;
if (port) void stampInThread(workerData as ThreadTask).then((answer) => port.postMessage(answer));
