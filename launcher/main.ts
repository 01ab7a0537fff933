import { SWEEP_HELP } from '../src/server/websites/sweeps/sweep-help.ts';
import { addAccountCommand, resetPasswordCommand } from './account-command.ts';
import { backupCommand, proveBackupCommand, restoreCommand } from './backup-command.ts';
import { bench } from './bench.ts';
import { start } from './start.ts';
import { test } from './test.ts';
import { one } from './one.ts';
import { migrateCommand } from './database-command.ts';
import { runOnce } from './run-once.ts';
import { verifyLedger } from './verify-ledger.ts';
import { LauncherError } from './launcher-error.ts';

const HELP = `./yare COMMAND

  start [--empty]            install what is missing, build, and run everything
  dev                        the same, reloading on change
  web | visitor | worker | intake
                             one process alone, on DATABASE_URL
  migrate                    bring the database at DATABASE_URL up to date
  add-account EMAIL NAME ROLE
                             add an account; its password is printed once
  reset-password EMAIL       give an account a new password, printed once
  backup FILE [--prove]      write all there is into a sealed file, while it is used
  prove-backup FILE          restore a backup elsewhere, verify the ledger in it, and note that
  restore FILE               restore a backup into an empty data folder or database
  test [unit|integration|attack|end-to-end|long|AREA|FILE]
                             every check; or one kind of tests; long ones only by name
  bench [NAME]               figures, one JSON line each
  sweep URL [--json FILE] [--help]
                             sweep a website without the desk or a database
  detect PATH… [--json] [--help]
                             find personal data in files, without the desk or a database
  stamp FILE… --level NAME --out FOLDER [--help]
                             stamp documents with a level, without the desk or a database
  retention --rules FILE --items FILE [--help]
                             say which items may go, when and why, without the desk or a database
  reach ESTATE.jsonl (--person ID | --place ID | --pairs FILE) [--json] [--help]
                             say who reaches what, and by which way, without the desk or a database
  estate --folder FOLDER [--help]
                             write who may do what in a folder, for reach
  readiness ASSESSMENT.json [--on DATE] [--help]
                             say how far an assessment is, without the desk or a database
  framework check FILE.json [--json] [--help]
                             say what is wrong with a framework
  verify-ledger FILE [--head HEX]
                             check an exported ledger, without a database

Settings come from the environment; README.md lists them.
`;

async function main([command, ...rest]: readonly string[]): Promise<number> {
  switch (command) {
    case 'start':
      return start({ empty: rest.includes('--empty'), reload: false });
    case 'dev':
      return start({ empty: rest.includes('--empty'), reload: true });
    case 'web':
    case 'visitor':
    case 'worker':
    case 'intake':
      return one(command);
    case 'migrate':
      return migrateCommand();
    case 'add-account':
      return addAccountCommand(rest);
    case 'reset-password':
      return resetPasswordCommand(rest);
    case 'backup':
      return backupCommand(rest);
    case 'prove-backup':
      return proveBackupCommand(rest);
    case 'restore':
      return restoreCommand(rest);
    case 'test':
      return test(rest);
    case 'bench':
      return bench(rest[0]);
    case 'sweep':
      // Told without building anything.
      if (rest.includes('--help') || rest.includes('-h')) {
        process.stdout.write(SWEEP_HELP);
        return 0;
      }
      return runOnce(command, rest);
    case 'detect':
    case 'stamp':
    case 'retention':
    case 'reach':
    case 'estate':
    case 'readiness':
    case 'framework':
      return runOnce(command, rest);
    case 'verify-ledger':
      return verifyLedger(rest);
    case undefined:
    case 'help':
    case '--help':
      process.stdout.write(HELP);
      return 0;
    default:
      process.stderr.write(`There is no command “${command}”.\n\n${HELP}`);
      return 2;
  }
}

main(process.argv.slice(2)).then(
  (code) => process.exit(code),
  (error: Error) => {
    process.stderr.write(
      error instanceof LauncherError ? `\n${error.message}\n` : `\n${error.stack ?? error.message}\n`,
    );
    process.exit(1);
  },
);
