import { main } from '../processes/intake.ts';
import { run } from '../processes/process.ts';

run('intake', main);
