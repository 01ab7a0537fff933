import { run } from '../process.ts';
import { main } from '../web.ts';

run('web', main);
