import type { EstateLine } from '../../core/access/estate/estate-line.ts';
import { mariadbRights } from './databases/mariadb-rights.ts';
import { asCommand, readArgs, UsageError } from '../processes/command.ts';
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

const ARGS = {
  options: {
    help: { type: 'boolean' },
    folder: { type: 'string' },
    source: { type: 'string' },
    'no-accounts': { type: 'boolean' },
    mariadb: { type: 'string' },
    user: { type: 'string' },
  },
} as const;

/** Writes an estate from the command line; the exit code. */
export function estateCommand(args: readonly string[]): Promise<number> {
  return asCommand(ESTATE_HELP, () => run(args));
}

async function run(args: readonly string[]): Promise<number> {
  const { values } = readArgs(args, ARGS);
  const { folder, mariadb, user, source } = values;
  if (values.help) {
    process.stdout.write(ESTATE_HELP);
    return 0;
  }
  if (folder !== undefined && mariadb !== undefined)
    throw new UsageError('Read one thing: --folder FOLDER or --mariadb HOST:PORT.');
  if (folder !== undefined) {
    if (!values['no-accounts']) await write(await machineAccounts());
    await write(folderLines(folder, source ?? 'files'));
    return 0;
  }
  if (mariadb === undefined)
    throw new UsageError('Say what to read: --folder FOLDER or --mariadb HOST:PORT.');
  if (user === undefined) throw new UsageError('Say as whom it is read: --user NAME.');
  const [host = '', port = '3306'] = mariadb.split(/:(?=\d+$)/);
  const password = process.env['ESTATE_PASSWORD'] ?? '';
  await write(await mariadbRights({ host, port: Number(port), user, password }, source ?? 'database'));
  return 0;
}

async function write(lines: Iterable<EstateLine> | AsyncIterable<EstateLine>): Promise<void> {
  for await (const line of lines)
    if (!process.stdout.write(`${JSON.stringify(line)}\n`))
      await new Promise<void>((done) => process.stdout.once('drain', () => done()));
}
