import { readFile } from 'node:fs/promises';
import { readSheets } from '../files/workbook-sheets.ts';
import { asCommand, readArgs, UsageError } from '../processes/command.ts';
import { readFrameworkFile } from './library/read-framework.ts';
import { shippedLibrary } from './library/shipped-library.ts';

export const FRAMEWORK_HELP = `./yare framework check FILE [--json]

  Says of a framework all that is wrong with it, each fault at its cell, field or control (docs/frameworks.md). FILE is a
  workbook (XLSX), JSON, or an OSCAL catalog or profile. What it takes and measures it names are those that ship. Nothing
  is changed.

  --json   one JSON value on standard output

  Ends with 0 when nothing is wrong, 1 when something is, 2 when it could not begin.
`;

/** Checks a framework from the command line; the exit code. `figures` are ids of all that measures can be tested by. */
export function frameworkCommand(args: readonly string[], figures: ReadonlySet<string>): Promise<number> {
  return asCommand(FRAMEWORK_HELP, () => run(args, figures));
}

const ARGS = {
  allowPositionals: true,
  options: { help: { type: 'boolean' }, json: { type: 'boolean' } },
} as const;

async function run(args: readonly string[], figures: ReadonlySet<string>): Promise<number> {
  const { values, positionals } = readArgs(args, ARGS);
  if (values.help) {
    process.stdout.write(FRAMEWORK_HELP);
    return 0;
  }
  const [act, path, ...more] = positionals;
  if (act !== 'check' || path === undefined || more.length > 0)
    throw new UsageError('Say which file to check: ./yare framework check FILE.');
  const library = shippedLibrary();
  const { faults, notes } = await readFrameworkFile(
    await readFile(path),
    // A file of what ships is itself, and no second one of its id.
    (id) => ({ ...library.around(id, figures), ships: () => false }),
    readSheets,
  );
  if (values.json) process.stdout.write(`${JSON.stringify({ file: path, faults, notes })}\n`);
  else {
    for (const note of notes) process.stdout.write(`○ ${note}\n`);
    process.stdout.write(
      faults.length === 0
        ? `✓ ${path}: nothing is wrong.\n`
        : faults.map((f) => `◆ ${f.at}: ${f.message}\n`).join(''),
    );
  }
  return faults.length === 0 ? 0 : 1;
}
