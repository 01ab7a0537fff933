import { run } from '../processes/process.ts';
import { main } from '../processes/web.ts';

run('web', main);
