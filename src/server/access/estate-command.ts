import { parseArgs } from 'node:util';
import type { EstateLine } from '../../core/access/estate/estate-line.ts';
import { mariadbRights } from './databases/mariadb-rights.ts';
import { folderLines, machineAccounts } from './posix/read-folder.ts';

export const ESTATE_HELP = `./yare estate --folder FOLDER [--source NAME] [--no-accounts]
./yare estate --mariadb HOST:PORT --user NAME [--source NAME]

  Writes who may do what in a folder of this machine as an estate (docs/estate.md): every file and folder with its bits and
  lists, all folders above it, and the accounts and groups of this machine. Nothing is changed. It reads what the account
  that runs it can read; what it cannot is told as unknown.

  Of a server of MariaDB: its accounts, roles, schemas and tables, and what is granted. The account that reads needs SELECT
  on all of “mysql”; its password is taken from ESTATE_PASSWORD.

  --source NAME    how the source is called; “files” or “database” without it
  --no-accounts    of a folder, without accounts and groups

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
        mariadb: { type: 'string' },
        user: { type: 'string' },
      },
    });
    if (values.help || (values.folder === undefined) === (values.mariadb === undefined)) {
      process[values.help ? 'stdout' : 'stderr'].write(ESTATE_HELP);
      return values.help ? 0 : 2;
    }
    const write = async (line: EstateLine) => {
      if (!process.stdout.write(`${JSON.stringify(line)}\n`))
        await new Promise<void>((done) => process.stdout.once('drain', () => done()));
    };
    if (values.mariadb !== undefined) {
      const [host = '', port = '3306'] = values.mariadb.split(/:(?=\d+$)/);
      const address = { host, port: Number(port), password: process.env['ESTATE_PASSWORD'] ?? '' };
      const user = values.user ?? 'root';
      for (const line of await mariadbRights({ ...address, user }, values.source ?? 'database'))
        await write(line);
      return 0;
    }
    if (!values['no-accounts']) for (const line of await machineAccounts()) await write(line);
    for await (const line of folderLines(values.folder ?? '', values.source ?? 'files')) await write(line);
    return 0;
  } catch (error) {
    process.stderr.write(`${(error as Error).message}\n`);
    return 2;
  }
}
