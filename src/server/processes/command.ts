import { createReadStream } from 'node:fs';
import { createInterface } from 'node:readline';
import { parseArgs, type ParseArgsConfig } from 'node:util';
import { ZodError } from 'zod';
import { RefusedError } from '../../core/refusal.ts';

/** What was typed cannot be understood. */
export class UsageError extends Error {}

/** Does what a command is for; the exit code, 2 with the reason on standard error where it throws. */
export async function asCommand(help: string, work: () => Promise<number>): Promise<number> {
  try {
    return await work();
  } catch (error) {
    process.stderr.write(`${wordsOf(error)}\n${error instanceof UsageError ? `\n${help}` : ''}`);
    return 2;
  }
}

function wordsOf(error: unknown): string {
  if (error instanceof ZodError)
    return error.issues.map((i) => `${i.path.join('.')}: ${i.message}`).join('\n');
  const fields = error instanceof RefusedError ? error.fields : [];
  return [(error as Error).message, ...fields.map((f) => `  ${f.field}: ${f.message}`)].join('\n');
}

/** Throws a UsageError. */
export function readArgs<const T extends ParseArgsConfig>(
  args: readonly string[],
  config: T,
): ReturnType<typeof parseArgs<T & { args: string[] }>> {
  try {
    return parseArgs({ ...config, args: [...args] });
  } catch (error) {
    throw new UsageError((error as Error).message);
  }
}

/** Of a file, or of standard input for `-`. A file that is not there is told by the first line that is asked for. */
export function linesOf(file: string): AsyncIterable<string> {
  return createInterface({
    input: file === '-' ? process.stdin : createReadStream(file),
    crlfDelay: Infinity,
  });
}
