import { readinessCommand } from '../obligations/readiness-command.ts';

const code = await readinessCommand(process.argv.slice(2));
// What was written to a pipe may still be on its way.
process.stdout.write('', () => process.exit(code));
