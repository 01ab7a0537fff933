import { figureIds } from '../desk/figures.ts';
import { frameworkCommand } from '../obligations/framework-command.ts';

const code = await frameworkCommand(process.argv.slice(2), figureIds());
// What was written to a pipe may still be on its way.
process.stdout.write('', () => process.exit(code));
