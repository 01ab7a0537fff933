import { run } from '../process.ts';
import { main } from '../visitor.ts';

run('visitor', main);
