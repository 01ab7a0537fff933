import { retentionCommand } from '../retention/retention-command.ts';

const code = await retentionCommand(process.argv.slice(2));
// What was written to a pipe may still be on its way.
process.stdout.write('', () => process.exit(code));
