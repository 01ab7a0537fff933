import { run } from '../process.ts';
import { main } from '../worker.ts';

run('worker', main);
