import { dirname } from 'node:path';
import { fileURLToPath } from 'node:url';

export const PROJECT = dirname(dirname(fileURLToPath(import.meta.url)));

/** A line of progress. */
export function say(words: string): void {
  process.stdout.write(`${words}\n`);
}
