import { run } from '../processes/process.ts';
import { main } from '../processes/worker.ts';

run('worker', main);
