import { readFile } from 'node:fs/promises';
import { Framework } from '../../core/obligations/framework/framework.ts';
import { frameworkFaults } from '../../core/obligations/framework/library.ts';
import { asCommand, readArgs, UsageError } from '../processes/command.ts';
import { ShippedLibrary } from './library/shipped-library.ts';

export const FRAMEWORK_HELP = `./yare framework check FILE.json [--json]

  Says of a framework all that is wrong with it, each fault at its field or control (docs/frameworks.md). Its measures are
  those that ship. Nothing is changed.

  --json   one JSON value on standard output

  Ends with 0 when nothing is wrong, 1 when something is, 2 when it could not begin.
`;

/** Checks a framework from the command line; the exit code. */
export function frameworkCommand(args: readonly string[]): Promise<number> {
  return asCommand(FRAMEWORK_HELP, () => run(args));
}

const ARGS = {
  allowPositionals: true,
  options: { help: { type: 'boolean' }, json: { type: 'boolean' } },
} as const;

async function run(args: readonly string[]): Promise<number> {
  const { values, positionals } = readArgs(args, ARGS);
  if (values.help) {
    process.stdout.write(FRAMEWORK_HELP);
    return 0;
  }
  const [act, path, ...more] = positionals;
  if (act !== 'check' || path === undefined || more.length > 0)
    throw new UsageError('Say which file to check: ./yare framework check FILE.json.');
  const faults = faultsOf(await readFile(path, 'utf8'));
  if (values.json) process.stdout.write(`${JSON.stringify({ file: path, faults })}\n`);
  else
    process.stdout.write(
      faults.length === 0
        ? `✓ ${path}: nothing is wrong.\n`
        : faults.map((f) => `◆ ${f.at}: ${f.message}\n`).join(''),
    );
  return faults.length === 0 ? 0 : 1;
}

/** Every fault at once: of its form by the field, else of what it names by the control. */
function faultsOf(text: string): readonly { readonly at: string; readonly message: string }[] {
  let value: unknown;
  try {
    value = JSON.parse(text);
  } catch (error) {
    return [{ at: 'file', message: `It cannot be read as JSON: ${(error as Error).message}` }];
  }
  const parsed = Framework.safeParse(value);
  if (!parsed.success)
    return parsed.error.issues.map((i) => ({ at: i.path.join('.') || 'file', message: i.message }));
  return frameworkFaults(parsed.data, new Set(ShippedLibrary.get().measures.keys()));
}
