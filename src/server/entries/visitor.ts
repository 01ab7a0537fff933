import { run } from '../processes/process.ts';
import { main } from '../websites/visitor/visitor-service.ts';

run('visitor', main);
