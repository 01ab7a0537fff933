import { parseArgs } from 'node:util';
import type { EstateLine } from '../../core/access/estate/estate-line.ts';
import { folderLines, machineAccounts } from './posix/read-folder.ts';

export const ESTATE_HELP = `./yare estate --folder FOLDER [--source NAME] [--no-accounts]

  Writes who may do what in a folder of this machine as an estate (docs/estate.md): every file and folder with its bits and
  lists, all folders above it, and the accounts and groups of this machine. Nothing is changed. It reads what the account
  that runs it can read; what it cannot is told as unknown.

  --source NAME    how the folder is called; “files” without it
  --no-accounts    without accounts and groups

  Ends with 0 when all was written, 2 when it could not begin.
`;

/** Writes an estate from the command line; the exit code. */
export async function estateCommand(args: readonly string[]): Promise<number> {
  try {
    const { values } = parseArgs({
      args: [...args],
      options: {
        help: { type: 'boolean' },
        folder: { type: 'string' },
        source: { type: 'string' },
        'no-accounts': { type: 'boolean' },
      },
    });
    if (values.help || values.folder === undefined) {
      process[values.help ? 'stdout' : 'stderr'].write(ESTATE_HELP);
      return values.help ? 0 : 2;
    }
    const write = async (line: EstateLine) => {
      if (!process.stdout.write(`${JSON.stringify(line)}\n`))
        await new Promise<void>((done) => process.stdout.once('drain', () => done()));
    };
    if (!values['no-accounts']) for (const line of await machineAccounts()) await write(line);
    for await (const line of folderLines(values.folder, values.source ?? 'files')) await write(line);
    return 0;
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n`);
    return 2;
  }
}
