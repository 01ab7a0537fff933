import { detectCommand } from '../holdings/detection/detect-command.ts';

const code = await detectCommand(process.argv.slice(2));
// What was written to a pipe may still be on its way.
process.stdout.write('', () => process.exit(code));
