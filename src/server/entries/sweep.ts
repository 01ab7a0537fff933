import { sweepCommand } from '../websites/sweeps/sweep-command.ts';

process.exitCode = await sweepCommand(process.argv.slice(2));
// A browser's pipe may still be open.
process.exit();
